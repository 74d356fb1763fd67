import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Reject } from '@/core/intake/fields'
import { namedClicks } from '@/core/intake/orderParameters'
import { type FileKind, fileKinds, type RecordOf } from '@/core/intake/records'
import { type FolderSettings, folderSettingsSchema } from '@/core/signals/result'
import { type FoundClicks, readClicks } from './clickFile'
import { readExchangeFile, writeCsv } from './csv'
import { decodeText } from './encoding'
import { parseJson } from './json'

type RowKind = Exclude<FileKind, 'clicks'>
interface FolderFile<Kind extends RowKind = RowKind> {
  kind: Kind
  records: RecordOf[Kind][]
  /** the line on which each record stands */
  lines: number[]
  rejected: Reject[]
}

export interface Folder {
  /** null where the folder has no settings.json */
  settings: FolderSettings | null
  files: { [Kind in RowKind]?: FolderFile<Kind> }
  /** clicks are many: of those that an order can name there are columns, not rows, and of the others the ads */
  clicks?: FoundClicks
}

export const fileName = (kind: FileKind) => `${kind}.csv`
const REJECTS = 'rejects.csv'

/**
 * Reads a folder of exchange files, each of which may be absent.
 *
 * @throws FileRefused when a file cannot be taken at all, InvalidJson for bad settings
 */
export function readFolder(dir: string): Folder {
  const folder = readFolderButClicks(dir)
  if (!existsSync(clickFile(dir))) return folder
  return { ...folder, clicks: readClicks(clickFile(dir), namedInFolder(folder)) }
}

export const clickFile = (dir: string) => join(dir, fileName('clicks'))

/** What a folder's orders name of its clicks. */
export const namedInFolder = ({ files }: Pick<Folder, 'files'>) => namedClicks(files.orders?.records ?? [])

/**
 * @param known what of it was read already
 * @throws as `readFolder`
 */
export function readFolderButClicks(dir: string, known: Folder['files'] = {}): Folder {
  const folder: Folder = { settings: readSettings(dir), files: { ...known } }
  for (const kind of fileKinds)
    if (kind !== 'clicks' && !known[kind] && existsSync(join(dir, fileName(kind))))
      readInto(folder.files, kind, dir)
  return folder
}

/** A folder's orders, which say what of its clicks is wanted. */
export function readOrders(dir: string): Folder['files'] {
  const files: Folder['files'] = {}
  if (existsSync(join(dir, fileName('orders')))) readInto(files, 'orders', dir)
  return files
}

/** The folder's settings; null where it has none. */
export function readSettings(dir: string): FolderSettings | null {
  const path = join(dir, 'settings.json')
  return existsSync(path)
    ? parseJson(readFileSync(path, 'utf8'), folderSettingsSchema, 'settings.json')
    : null
}

const contentOf = (dir: string, kind: FileKind) => decodeText(readFileSync(join(dir, fileName(kind))))

function readInto<Kind extends RowKind>(
  files: { [K in Kind]?: FolderFile<K> },
  kind: Kind,
  dir: string,
): void {
  const { records, lines, rejected } = readExchangeFile(kind, contentOf(dir, kind), fileName(kind))
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

/** Of some files those that a folder has already: whoever writes them would lose what they hold. */
export const filesThere = (dir: string, names: readonly string[]): string[] =>
  names.filter(name => existsSync(join(dir, name)))

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
