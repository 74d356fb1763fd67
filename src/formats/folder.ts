import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { type ClickFacts, gatherClicks } from '@/core/intake/clicks'
import { plainRow, type Reject } from '@/core/intake/fields'
import { type FileKind, fileKinds, type RecordOf } from '@/core/intake/records'
import { parseInstant } from '@/core/shared/days'
import { type FolderSettings, folderSettingsSchema } from '@/core/signals/result'
import { readEachRow, readExchangeFile, writeCsv } from './csv'
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
  /** clicks are many: they are kept in columns, not as rows */
  clicks?: { gathered: ReturnType<typeof gatherClicks>; read: number; rejected: Reject[] }
}

export const fileName = (kind: FileKind) => `${kind}.csv`
const REJECTS = 'rejects.csv'

/**
 * Reads a folder of exchange files, each of which may be absent.
 *
 * @throws FileRefused when a file cannot be taken at all, InvalidJson for bad settings
 */
export function readFolder(dir: string): Folder {
  const folder: Folder = { settings: readSettings(dir), files: {} }
  for (const kind of fileKinds) {
    if (!existsSync(join(dir, fileName(kind)))) continue
    if (kind === 'clicks') folder.clicks = readClicks(dir)
    else readInto(folder.files, kind, dir)
  }
  return folder
}

/** The folder's settings; null where it has none. */
export function readSettings(dir: string): FolderSettings | null {
  const path = join(dir, 'settings.json')
  return existsSync(path)
    ? parseJson(readFileSync(path, 'utf8'), folderSettingsSchema, 'settings.json')
    : null
}

const contentOf = (dir: string, kind: FileKind) => readFileSync(join(dir, fileName(kind)), 'utf8')

function readInto<Kind extends RowKind>(
  files: { [K in Kind]?: FolderFile<K> },
  kind: Kind,
  dir: string,
): void {
  const { records, lines, rejected } = readExchangeFile(kind, contentOf(dir, kind), fileName(kind))
  files[kind] = { kind, records, lines, rejected }
}

function readClicks(dir: string): Folder['clicks'] {
  const gathered = gatherClicks()
  let read = 0
  const take = (row: ClickFacts) => {
    gathered.add(row)
    read += 1
  }
  const { rejected } = readEachRow('clicks', contentOf(dir, 'clicks'), fileName('clicks'), take, keys =>
    plainClicks(keys, take),
  )
  return { gathered, read, rejected }
}

/** Takes clicks that are plainly good as their cells. */
function plainClicks(keys: readonly string[], take: (row: ClickFacts) => void) {
  const isPlain = plainRow(keys)
  const at = (column: keyof ClickFacts) => keys.indexOf(column)
  const [id, instant, network, campaign, adSet, ad] = [
    at('click_id'),
    at('clicked_at'),
    at('network'),
    at('campaign_id'),
    at('ad_set_id'),
    at('ad_id'),
  ] as const
  const [visitor, networkId, device] = [at('visitor_id'), at('network_click_id'), at('device')] as const
  return (cells: readonly string[]): boolean => {
    if (!cells[id] || !cells[network] || !isPlain(cells)) return false
    const clicked_at = parseInstant(cells[instant]!)
    if (clicked_at === null) return false
    take({
      click_id: cells[id],
      clicked_at,
      network: cells[network],
      campaign_id: cells[campaign] || null,
      ad_set_id: cells[adSet] || null,
      ad_id: cells[ad] || null,
      visitor_id: cells[visitor] || null,
      network_click_id: cells[networkId] || null,
      device: cells[device] || null,
    })
    return true
  }
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
