import { createHash } from 'node:crypto'
import { mkdirSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

/**
 * The folder of the socket on which the embedded database of a data folder answers. Sockets have short
 * names by law of the operating system, so it is not in the data folder itself.
 */
export function socketFolder(folder: string): string {
  const name = createHash('sha256').update(folder).digest('hex').slice(0, 16)
  const path = join(tmpdir(), `aequant-${name}`)
  mkdirSync(path, { recursive: true, mode: 0o700 })
  return path
}
/** The file name that PostgreSQL clients look for in a socket folder. */
export const socketFile = (folder: string): string => join(socketFolder(folder), '.s.PGSQL.5432')
