// npm test: everything that must hold, on a fresh machine too.
import { spawnSync } from 'node:child_process'
import { existsSync } from 'node:fs'
import { ensurePackages, root, run } from './install.mjs'
import { ensureBuilt } from './start.mjs'

process.chdir(root)
process.env.NEXT_TELEMETRY_DISABLED = '1'
ensurePackages()
if (!existsSync(process.env.CHROMIUM ?? '/usr/bin/chromium')) {
  console.error('Installing Chromium (apt-get) …')
  const quiet = { stdio: ['ignore', 'ignore', 'inherit'] }
  spawnSync('apt-get', ['update'], quiet)
  run('apt-get', ['install', '-y', 'chromium'], quiet)
}
const step = (name, command, args) => {
  console.log(`\n== ${name}`)
  run('npx', ['--no-install', command, ...args])
}
step('types', 'tsc', ['--noEmit'])
step('format and lint', 'biome', ['check', '.'])
step('import directions', 'depcruise', ['src', '--output-type', 'err'])
step('unused code', 'knip', [])
step('unit and property tests', 'vitest', ['run'])
console.log('\n== build')
await ensureBuilt()
step('browser tests', 'playwright', ['test'])
