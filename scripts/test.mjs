// npm test: everything that must hold, on a fresh machine too.
import { spawnSync } from 'node:child_process'
import { existsSync } from 'node:fs'
import { ensurePackages, root, run } from './install.mjs'
import { ensureBuilt } from './start.mjs'

process.chdir(root)
process.env.NEXT_TELEMETRY_DISABLED = '1'
ensurePackages('all')
if (!existsSync(process.env.CHROMIUM ?? '/usr/bin/chromium')) {
  console.error('Installing Chromium (apt-get) …')
  const quiet = { stdio: ['ignore', 'ignore', 'inherit'] }
  spawnSync('apt-get', ['update'], quiet)
  run('apt-get', ['install', '-y', 'chromium'], quiet)
}
const step = (name, script) => {
  console.log(`\n== ${name}`)
  run('npm', ['run', '--silent', script])
}
step('types', 'types')
step('format and lint', 'lint')
step('import directions', 'imports')
step('unused code', 'unused')
console.log('\n== build')
await ensureBuilt()
step('unit and property tests', 'unit')
step('browser tests', 'e2e')
