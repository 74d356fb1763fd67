import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Reject } from '@/core/intake/fields'
import { type FileKind, fileKinds, type RecordOf } from '@/core/intake/records'
import { type Settings, settingsSchema } from '@/core/intake/settings'
import { readExchangeFile, writeCsv } from './csv'
import { parseJson } from './json'

export interface FolderFile<Kind extends FileKind = FileKind> {
  kind: Kind
  records: RecordOf[Kind][]
  lines: number[]
  rejected: Reject[]
}
export type FolderFiles = { [Kind in FileKind]?: FolderFile<Kind> }

export interface Folder {
  /** null where the folder has no settings.json */
  settings: Settings | null
  files: FolderFiles
}

export const fileName = (kind: FileKind) => `${kind}.csv`
const REJECTS = 'rejects.csv'

/**
 * Reads a folder of exchange files, each of which may be absent.
 *
 * @throws FileRefused when a file cannot be taken at all, InvalidJson for bad settings
 */
export function readFolder(dir: string): Folder {
  const files: FolderFiles = {}
  for (const kind of fileKinds) readInto(files, kind, dir)
  return { settings: readSettings(dir), files }
}

/** The folder's settings; null where it has none. */
export function readSettings(dir: string): Settings | null {
  const path = join(dir, 'settings.json')
  return existsSync(path) ? parseJson(readFileSync(path, 'utf8'), settingsSchema, 'settings.json') : null
}

function readInto<Kind extends FileKind>(
  files: { [K in Kind]?: FolderFile<K> },
  kind: Kind,
  dir: string,
): void {
  const path = join(dir, fileName(kind))
  if (!existsSync(path)) return
  const { records, lines, rejected } = readExchangeFile(kind, readFileSync(path, 'utf8'), fileName(kind))
  files[kind] = { kind, records, lines, rejected }
}

/** Lists every rejected row beside the files it came from. Writes nothing when there is none. */
export function writeRejects(dir: string, rejects: readonly (Reject & { file: string })[]): string | null {
  if (rejects.length === 0) return null
  const path = join(dir, REJECTS)
  writeFileSync(
    path,
    writeCsv(
      ['file', 'line', 'column', 'reason', 'value'],
      rejects.map(r => ({ ...r })),
    ),
  )
  return path
}

/** Writes exchange files of plain rows; the columns are those of the first row. */
export function writeFolder(
  dir: string,
  files: Record<string, readonly Record<string, unknown>[]>,
  json: Record<string, unknown>,
): void {
  mkdirSync(dir, { recursive: true })
  for (const [name, rows] of Object.entries(files))
    writeFileSync(join(dir, name), writeCsv(Object.keys(rows[0] ?? {}), rows))
  for (const [name, value] of Object.entries(json))
    writeFileSync(join(dir, name), `${JSON.stringify(value, null, 2)}\n`)
}
