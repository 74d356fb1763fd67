import { mkdirSync, realpathSync } from 'node:fs'
import { resolve } from 'node:path'

/** The one folder that holds database, journal and routing table: `AEQUANT_DATA`, or `.aequant` where that is unset or empty; made when missing. */
export function dataFolder(): string {
  const folder = resolve(/* turbopackIgnore: true */ process.env.AEQUANT_DATA || '.aequant')
  mkdirSync(folder, { recursive: true })
  return realpathSync(folder)
}
