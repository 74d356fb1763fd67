import { createHash } from 'node:crypto'
import { lstatSync, mkdirSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { readLock } from './lock'

/** Where a socket of a data folder goes. Sockets have short names by law of the operating system, so it is not in the folder itself. */
export function newSocketFolder(folder: string): string {
  const name = createHash('sha256').update(folder).digest('hex').slice(0, 16)
  const path = join(tmpdir(), `aequant-${name}`)
  mkdirSync(path, { recursive: true, mode: 0o700 })
  const { uid, mode } = lstatSync(path)
  if (process.getuid && (uid !== process.getuid() || (mode & 0o777) !== 0o700))
    throw new Error(
      `${path} belongs to somebody else or is open to others: the database's socket cannot stand there. Remove it, or set TMPDIR to a folder of your own.`,
    )
  return path
}

/** The folder in which the database of a data folder answers: where its process says, whose TMPDIR may have been another. */
export const socketFolder = (folder: string): string => readLock(folder)?.socket ?? newSocketFolder(folder)

/** The file name that PostgreSQL clients look for in a socket folder. */
export const socketFile = (socket: string): string => join(socket, '.s.PGSQL.5432')
