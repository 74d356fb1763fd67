import { chmodSync, mkdirSync, realpathSync } from 'node:fs'
import { resolve } from 'node:path'

/**
 * The one folder that holds database, journal and routing table: `AEQUANT_DATA`, or `.aequant` where that
 * is unset or empty; made when missing. Nobody else on the machine may look into it.
 */
export function dataFolder(): string {
  const folder = resolve(/* turbopackIgnore: true */ process.env.AEQUANT_DATA || '.aequant')
  mkdirSync(folder, { recursive: true, mode: 0o700 })
  chmodSync(folder, 0o700)
  return realpathSync(folder)
}
