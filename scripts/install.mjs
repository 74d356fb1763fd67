// Installs the locked packages when they are missing or the lock file has changed since.
import { spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
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

/** Next.js names the test runner as a peer that it can do without, and npm installs what the lock file has of it. */
const strays = ['@playwright', 'playwright', 'playwright-core']

/**
 * Installs the locked packages: those that the product is built from and runs on, or all. No package's own
 * install script runs (`.npmrc`); none is needed.
 *
 * @param {'production' | 'all'} which
 */
export function ensurePackages(which) {
  const stamp = join(root, 'node_modules/.aequant-lock')
  const lock = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex')
  const installed = existsSync(stamp) ? readFileSync(stamp, 'utf8') : ''
  if (installed === `${lock} all` || installed === `${lock} ${which}`) return
  console.error('Installing packages (npm ci) …')
  const own = which === 'production' ? '--omit=dev' : '--include=dev'
  run('npm', ['ci', own, '--no-audit', '--no-fund'], { stdio: ['ignore', 'ignore', 'inherit'] })
  if (which === 'production')
    for (const name of strays) rmSync(join(root, 'node_modules', name), { recursive: true, force: true })
  writeFileSync(stamp, `${lock} ${which}`)
}
