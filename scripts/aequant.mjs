// Starts one of the bundled programs: node scripts/aequant.mjs PROGRAM [arguments]
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { bundle } from './bundle.mjs'
import { ensurePackages, root } from './install.mjs'

const [program, ...rest] = process.argv.slice(2)
ensurePackages(['bench', 'accuracy', 'soak'].includes(program) ? 'all' : 'production')
await bundle(root)
const file = join(root, 'dist', `${program}.mjs`)
process.argv = [process.argv[0], file, ...rest]
await import(pathToFileURL(file).href)
