// npm run at-date -- 2027-02-28 [unit|e2e]: the tests with the clock on another day, since none may rest on today's.
import { join } from 'node:path'
import { ensurePackages, root, run } from './install.mjs'
import { ensureBuilt } from './start.mjs'

const [day = '', only] = process.argv.slice(2)
const then = Date.parse(`${day}T09:30:00Z`)
if (Number.isNaN(then) || (only !== undefined && only !== 'unit' && only !== 'e2e')) {
  console.error(
    'Say the day, as in: npm run at-date -- 2027-02-28. After it, unit or e2e runs these tests alone.',
  )
  process.exit(2)
}
process.chdir(root)
ensurePackages('all')
await ensureBuilt()
process.env.CLOCK_OFFSET = String(then - Date.now())
process.env.NODE_OPTIONS = `--require ${join(root, 'tests/clock.cjs')}`
for (const kind of only ? [only] : ['unit', 'e2e']) run('npm', ['run', '--silent', kind])
