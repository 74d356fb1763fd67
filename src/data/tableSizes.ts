import { readFileSync, renameSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import * as z from 'zod'
import type { Executor } from './connect'

const FILE = 'database.sizes.json'
/** Bytes by the file that a table or index stands in; a table that is rewritten gets another file. */
const sizesSchema = z.record(z.string(), z.number())

/** Our tables and indexes, as `TableSize`. */
export const TABLE_SIZES = `
  select relname as table, pg_relation_filepath(oid) as file, pg_relation_size(oid)::float8 as bytes
  from pg_class where relkind in ('r', 'i', 't') and relnamespace <> 'pg_catalog'::regnamespace`
export interface TableSize extends Record<string, unknown> {
  table: string
  file: string
  bytes: number
}
export interface Shrunk extends TableSize {
  /** bytes that it held when it was last looked at */
  held: number
}

let written = ''
/** Notes how large tables and indexes are, beside the database and apart from it. */
export async function writeSizes(database: Executor, folder: string): Promise<void> {
  const { rows } = await database.execute<TableSize>(TABLE_SIZES)
  const text = JSON.stringify(Object.fromEntries(rows.map(({ file, bytes }) => [file, bytes])))
  if (text === written) return
  const path = join(folder, FILE)
  writeFileSync(`${path}.new`, text, { flush: true, mode: 0o600 })
  renameSync(`${path}.new`, path)
  written = text
}

/** Tables and indexes that are smaller than they were: PostgreSQL itself does not notice a file that was cut. */
export function findShrunk(sizes: readonly TableSize[], folder: string): Shrunk[] {
  const noted = readNoted(folder)
  return sizes.flatMap(size => {
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
