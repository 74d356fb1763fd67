import { statfsSync } from 'node:fs'

/**
 * Bytes that stay free on the disk of a data folder. The embedded database asks for its log in pieces of 16 MB, and
 * one that gets none never answers again.
 */
export const LEAST_ROOM = 64 * 1024 * 1024

/** Bytes that the disk of a folder still takes. */
export function roomIn(folder: string): number {
  const { bavail, bsize } = statfsSync(folder)
  return bavail * bsize
}

/** Whether the disk of a folder takes what a busy hour brings. */
export const hasRoom = (folder: string): boolean => roomIn(folder) >= LEAST_ROOM

/**
 * Lets clients of a session write only while there is room: before each one's turn, the session is told. What is there
 * can be read all the time.
 */
export function guardRoom(
  exec: (statement: string) => Promise<unknown>,
  hasRoom: () => boolean,
): () => Promise<void> {
  let writes = true
  return async () => {
    const may = hasRoom()
    if (may === writes) return
    await exec(`set default_transaction_read_only = ${may ? 'off' : 'on'}`)
    writes = may
    console.error(
      may
        ? 'The disk has room again: what arrives is taken in.'
        : 'The disk is nearly full: nothing is taken in until there is room. What is there can be read.',
    )
  }
}
