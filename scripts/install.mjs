// Installs the locked packages when they are missing or the lock file has changed since.
import { spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'

export const root = dirname(dirname(fileURLToPath(import.meta.url)))

export function run(command, args, options = {}) {
  const done = spawnSync(command, args, { cwd: root, stdio: 'inherit', ...options })
  if (done.status !== 0) {
    console.error(`\n${command} ${args.join(' ')} failed.`)
    process.exit(done.status ?? 1)
  }
}

export function ensurePackages() {
  const stamp = join(root, 'node_modules/.aequant-lock')
  const lock = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex')
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return
  console.error('Installing packages (npm ci) …')
  run('npm', ['ci', '--include=dev', '--no-audit', '--no-fund'], { stdio: ['ignore', 'ignore', 'inherit'] })
  writeFileSync(stamp, lock)
}
