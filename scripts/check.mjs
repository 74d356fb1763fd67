// npm run check: what every commit must hold, in under a minute: types, lint, imports, unused code, and the unit tests
// of what has changed since the last commit (`npm run check -- main`: since that).
import { execFileSync, spawn } from 'node:child_process'
import { ensurePackages, root } from './install.mjs'

ensurePackages('all')
const since = process.argv[2] ?? 'HEAD'
const git = (...args) => execFileSync('git', args, { cwd: root, encoding: 'utf8' }).split('\n')
const changed = [
  ...git('diff', '--name-only', '--diff-filter=d', since),
  ...git('ls-files', '--others', '--exclude-standard'),
].filter(path => /^(src|bench)\/.*\.tsx?$/.test(path))
const steps = {
  types: ['tsc', '--noEmit'],
  'format and lint': ['biome', 'check', '.'],
  'import directions': ['depcruise', 'src', 'bench', '--output-type', 'err'],
  'unused code': ['knip'],
  'unit tests of what changed': ['vitest', 'related', '--run', '--passWithNoTests', ...changed],
}
/** One at a time for each core but one: all at once would be slower on a small machine. */
const began = Date.now()
const failed = []
const step = ([name, [program, ...args]]) =>
  new Promise(done => {
    let said = ''
    const child = spawn(`node_modules/.bin/${program}`, args, {
      cwd: root,
      env: { ...process.env, FORCE_COLOR: '0' },
    })
    for (const stream of [child.stdout, child.stderr]) stream.on('data', chunk => (said += chunk))
    child.once('exit', code => {
      console.log(
        `${code === 0 ? 'well ' : 'WRONG'}  ${name}, after ${((Date.now() - began) / 1000).toFixed(0)} s`,
      )
      if (code !== 0) failed.push(`\n== ${name}\n${said}`)
      done()
    })
  })
const waiting = Object.entries(steps)
const worker = async () => {
  for (let next = waiting.shift(); next; next = waiting.shift()) await step(next)
}
await Promise.all([worker(), worker()])
for (const said of failed) console.error(said)
process.exit(failed.length > 0 ? 1 : 0)
