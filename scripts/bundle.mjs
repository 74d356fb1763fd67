// Bundles the command line and the processes beside the app to dist/, when a source is newer than they are.
import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs'
import { join } from 'node:path'

const entries = {
  aequant: 'src/cli/aequant.ts',
  serve: 'src/cli/serve.ts',
  application: 'src/cli/application.ts',
  collector: 'src/collector/main.ts',
  database: 'src/data/host.ts',
  practice: 'src/practice/main.ts',
  worker: 'src/server/compute/worker.ts',
  import: 'src/server/import/worker.ts',
  open: 'src/server/import/openWorker.ts',
  clicks: 'src/server/judging/clickThread.ts',
  bench: 'bench/main.ts',
  accuracy: 'bench/accuracy/main.ts',
  bare: 'bench/bare.ts',
  soak: 'bench/soak.ts',
  reporting: 'bench/reporting.ts',
}

/** Packages of many small files that every start would read one by one. */
const bundled = ['zod', 'luxon', 'papaparse']
const packages = root =>
  Object.entries(JSON.parse(readFileSync(join(root, 'package.json'), 'utf8')))
    .filter(([key]) => key === 'dependencies' || key === 'devDependencies')
    .flatMap(([, names]) => Object.keys(names))

function newest(dir) {
  let latest = 0
  for (const entry of readdirSync(dir, { withFileTypes: true })) {
    const path = join(dir, entry.name)
    latest = Math.max(latest, entry.isDirectory() ? newest(path) : statSync(path).mtimeMs)
  }
  return latest
}

export async function bundle(root) {
  const stamp = join(root, 'dist/aequant.mjs')
  const sources = Math.max(
    newest(join(root, 'src')),
    existsSync(join(root, 'bench')) ? newest(join(root, 'bench')) : 0,
  )
  if (existsSync(stamp) && statSync(stamp).mtimeMs > sources) return
  const { build } = await import('esbuild')
  await build({
    absWorkingDir: root,
    entryPoints: Object.fromEntries(
      Object.entries(entries).filter(([, path]) => existsSync(join(root, path))),
    ),
    outdir: 'dist',
    outExtension: { '.js': '.mjs' },
    bundle: true,
    splitting: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    external: packages(root).filter(name => !bundled.includes(name)),
    sourcemap: true,
    minifySyntax: true,
    logLevel: 'warning',
  })
  await build({
    absWorkingDir: root,
    entryPoints: { aq: 'src/tag/aq.ts', 'aq-test': 'src/tag/observe.ts' },
    outdir: 'dist',
    bundle: true,
    minify: true,
    format: 'iife',
    target: 'es2020',
    logLevel: 'warning',
  })
}
