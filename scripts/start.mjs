// npm start, npm run demo and npm run dev: installs and builds what is missing, then starts everything.
import { createHash } from 'node:crypto'
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { bundle } from './bundle.mjs'
import { ensurePackages, root, run } from './install.mjs'
import { portProblem } from './ports.mjs'

function hashOf(paths) {
  const hash = createHash('sha256')
  const add = path => {
    for (const entry of readdirSync(path, { withFileTypes: true }).sort((a, b) =>
      a.name < b.name ? -1 : 1,
    )) {
      const full = join(path, entry.name)
      if (entry.isDirectory()) add(full)
      else if (!/\.test\.tsx?$/.test(entry.name))
        hash.update(full.slice(root.length)).update(readFileSync(full))
    }
  }
  for (const path of paths) existsSync(join(root, path)) && add(join(root, path))
  for (const file of ['package-lock.json', 'next.config.ts', 'tsconfig.json'])
    hash.update(readFileSync(join(root, file)))
  return hash.digest('hex')
}

/** Builds the application when its sources have changed since the last build. */
export async function ensureBuilt() {
  await bundle(root)
  const stamp = join(root, '.next/aequant-build')
  const wanted = hashOf(['src', 'public'])
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted) return
  console.error('Building the application …')
  run('node', ['node_modules/next/dist/bin/next', 'build'], {
    stdio: ['ignore', 'ignore', 'inherit'],
    env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1' },
  })
  writeFileSync(stamp, wanted)
}

if (process.argv[1] && import.meta.url === pathToFileURL(process.argv[1]).href) {
  process.env.NEXT_TELEMETRY_DISABLED = '1'
  process.chdir(root)
  // Before building, which would replace the files that a running application serves.
  const taken = await portProblem(Number(process.env.PORT ?? 4600), process.env.HOST ?? '127.0.0.1', 'PORT')
  if (taken) {
    console.error(taken)
    process.exit(1)
  }
  const mode = process.argv[2] ?? 'start'
  ensurePackages(mode === 'dev' ? 'all' : 'production')
  // Pages are built as they are opened there; the other processes are started with what their sources are now.
  if (mode === 'dev') await bundle(root)
  else await ensureBuilt()
  process.argv = [process.argv[0], join(root, 'dist/serve.mjs'), mode]
  await import(pathToFileURL(process.argv[1]).href)
}
