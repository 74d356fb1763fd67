// npm test: everything that must hold, on a fresh machine too.
import { spawnSync } from 'node:child_process'
import { existsSync } from 'node:fs'
import { ensurePackages, root, run } from './install.mjs'
import { ensureBuilt } from './start.mjs'

process.chdir(root)
process.env.NEXT_TELEMETRY_DISABLED = '1'
ensurePackages('all')
/** Installs a package of Debian's when what it brings is not there; gives whether it is there then. */
function ensureDebian(name, path) {
  if (existsSync(path)) return true
  console.error(`Installing ${name} (apt-get) …`)
  const quiet = { stdio: ['ignore', 'ignore', 'inherit'] }
  spawnSync('apt-get', ['update'], quiet)
  spawnSync('apt-get', ['install', '-y', '--no-install-recommends', name], quiet)
  return existsSync(path)
}
if (!ensureDebian('chromium', process.env.CHROMIUM ?? '/usr/bin/chromium')) {
  console.error('The browser tests need Chromium: install it, or say where it is by CHROMIUM.')
  process.exit(1)
}
if (!ensureDebian('postgresql', '/usr/lib/postgresql'))
  console.error('There is no PostgreSQL server here: the tests on one are left out.')
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
