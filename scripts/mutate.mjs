// npm run mutate [-- FOLDER ... [--part 1/4]]: puts small faults into the code, one at a time, and says which no
// test sees. A part is every so manieth stretch of lines of each file: a sample, where the whole takes too long.
import { spawnSync } from 'node:child_process'
import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { parseArgs } from 'node:util'
import { root } from './install.mjs'

/** Folders that are held to a share of faults caught, each with the tests that speak for it. */
const folders = {
  evidence: {
    code: 'src/core/evidence',
    tests: ['src/core/evidence', 'src/core/weigh/engine.test.ts'],
    least: 80,
  },
  estimate: { code: 'src/core/estimate', tests: ['src/core/estimate'], least: 80 },
  weigh: { code: 'src/core/weigh', tests: ['src/core/weigh'], least: 80 },
  links: { code: 'src/core/links', tests: ['src/core/links'], least: 80 },
  signals: {
    code: 'src/core/signals',
    tests: ['src/core/signals', 'src/formats/pageCheck.test.ts'],
    least: 80,
  },
  drain: { code: 'src/server/drain', tests: ['src/server/drain'], least: 70 },
  relay: { code: 'src/server/relay', tests: ['src/server/relay'], least: 70 },
  collector: { code: 'src/collector', tests: ['src/collector'], least: 70 },
}

const {
  values: { part = '1/1' },
  positionals: asked,
} = parseArgs({ allowPositionals: true, options: { part: { type: 'string' } } })
const [which, of] = part.split('/').map(Number)
if (!(which >= 1 && which <= of)) {
  console.error(`--part ${part}: write it as 1/4.`)
  process.exit(2)
}
const LINES = 10

/** What is mutated of a folder: its files, or of each every so manieth stretch of lines. */
function faultsIn(code) {
  const files = readdirSync(join(root, code), { recursive: true })
    .map(name => `${code}/${name}`)
    .filter(
      file =>
        file.endsWith('.ts') && !/\.test\.ts$|\/(any\w*|main|sampleRecords|openings|causes)\.ts$/.test(file),
    )
  if (of === 1) return files
  return files.flatMap(file => {
    const lines = readFileSync(join(root, file), 'utf8').split('\n').length
    const stretches = Array.from({ length: Math.ceil(lines / LINES) }, (_, i) => i * LINES + 1)
    return stretches
      .filter((_, i) => (i + which) % of === 0)
      .map(first => `${file}:${first}-${Math.min(lines, first + LINES - 1)}`)
  })
}

const unknown = asked.filter(name => !(name in folders))
if (unknown.length > 0) {
  console.error(`There is no folder ${unknown.join(', ')}. Choose of ${Object.keys(folders).join(', ')}.`)
  process.exit(2)
}
const out = join(root, 'reports', 'mutation')
mkdirSync(out, { recursive: true })
let short = false
for (const name of asked.length > 0 ? asked : Object.keys(folders)) {
  const { code, tests, least } = folders[name]
  const config = join(out, `${name}.config.json`)
  writeFileSync(
    config,
    JSON.stringify({
      testRunner: 'vitest',
      plugins: ['@stryker-mutator/vitest-runner'],
      vitest: { configFile: 'vitest.mutate.config.ts', related: false },
      mutate: faultsIn(code),
      incremental: of === 1,
      incrementalFile: join(out, `${name}.incremental.json`),
      ignoreStatic: true,
      concurrency: 2,
      timeoutMS: 20_000,
      reporters: ['progress-append-only', 'clear-text', 'json'],
      clearTextReporter: { allowColor: false, logTests: false, reportTests: false },
      jsonReporter: { fileName: join(out, `${name}.json`) },
      tempDirName: join('reports', 'mutation', `.${name}`),
      ignorePatterns: ['/.next', '/dist', '/reports', '/test-results'],
    }),
  )
  const run = spawnSync('node', ['node_modules/@stryker-mutator/core/bin/stryker.js', 'run', config], {
    cwd: root,
    stdio: 'inherit',
    env: { ...process.env, MUTATED_TESTS: tests.join(',') },
  })
  if (run.status !== 0) process.exit(run.status ?? 1)
  const { files } = JSON.parse(readFileSync(join(out, `${name}.json`), 'utf8'))
  const states = Object.values(files).flatMap(file => file.mutants.map(mutant => mutant.status))
  const caught = states.filter(state => state === 'Killed' || state === 'Timeout').length
  const counted = states.filter(state =>
    ['Killed', 'Timeout', 'Survived', 'NoCoverage'].includes(state),
  ).length
  const share = (100 * caught) / counted
  short ||= share < least
  console.log(
    `${name}${of === 1 ? '' : `, part ${part}`}: ${caught} of ${counted} faults caught, ${share.toFixed(1)} %; at least ${least} % are wanted.`,
  )
}
process.exitCode = short ? 1 : 0
