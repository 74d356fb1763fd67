import { readFileSync, renameSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { PGlite } from '@electric-sql/pglite'
import * as z from 'zod'

const FILE = 'database.sizes.json'
/** Bytes by the file that a table or index stands in; a table that is rewritten gets another file. */
const sizesSchema = z.record(z.string(), z.number())

interface TableSize {
  table: string
  file: string
  bytes: number
}
export interface Shrunk extends TableSize {
  /** bytes that it held when it was last looked at */
  held: number
}

const listSizes = async (database: PGlite): Promise<TableSize[]> =>
  (
    await database.query<TableSize>(`
      select relname as table, pg_relation_filepath(oid) as file, pg_relation_size(oid)::float8 as bytes
      from pg_class where relkind in ('r', 'i', 't') and relnamespace <> 'pg_catalog'::regnamespace`)
  ).rows

let written = ''
/** Notes how large tables and indexes are, beside the database and apart from it. */
export async function writeSizes(database: PGlite, folder: string): Promise<void> {
  const sizes = (await listSizes(database)).map(({ file, bytes }) => [file, bytes] as const)
  const text = JSON.stringify(Object.fromEntries(sizes))
  if (text === written) return
  const path = join(folder, FILE)
  writeFileSync(`${path}.new`, text, { flush: true, mode: 0o600 })
  renameSync(`${path}.new`, path)
  written = text
}

/** Tables and indexes that are smaller than they were: PostgreSQL itself does not notice a file that was cut. */
export async function findShrunk(database: PGlite, folder: string): Promise<Shrunk[]> {
  const noted = readNoted(folder)
  return (await listSizes(database)).flatMap(size => {
    const held = noted[size.file] ?? 0
    return size.bytes < held ? [{ ...size, held }] : []
  })
}

function readNoted(folder: string): Record<string, number> {
  try {
    return sizesSchema.parse(JSON.parse(readFileSync(join(folder, FILE), 'utf8')))
  } catch {
    return {}
  }
}
