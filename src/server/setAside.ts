import { arrivalSchema } from '@/core/intake/arrival'
import { type PostbackField, type SaleStatus, saleStatuses } from '@/core/intake/postback'
import { readParameters } from '@/core/shared/text'
import type { Database, Executor } from '@/data/connect'
import {
  type Alike,
  eachAside,
  groupAside,
  listAlike,
  listPartners,
  savePartner,
  settle,
} from '@/data/intake'
import { raiseVersion, saveSettings, type Workspace } from '@/data/workspace'
import { eachRowsCells, writeCsv } from '@/formats/csv'
import { readEntry } from './drain/readJournal'
import { storeArrivals } from './drain/storeArrivals'
import { storePostbacks } from './drain/storePostbacks'
import type { RejectedRow } from './import/corrected'
import { asideOf, importFile, isFileKind } from './import/importFile'
import { runJob } from './import/runJob'
import { storeOrderMessage } from './orderWebhook'
import { publishRoutes } from './routes'

const MOST_GROUPS = 200

/** A group of what was set aside, with what somebody may do about it. */
export type AsideGroup = Awaited<ReturnType<typeof asideGroups>>[number]
export const asideGroups = async (database: Database, workspace: string) =>
  (await groupAside(database, workspace, MOST_GROUPS)).map(group => ({
    ...group,
    key: JSON.stringify([group.kind, group.reason, group.facts]),
    /** whether its rows could be told apart into cells, so that one can be corrected */
    correctable: group.kind === 'row' && cellsOf(group.raw) !== null,
    /** the row that looks like the correction of its latest */
    proposed: group.kind === 'row' ? ((JSON.parse(group.raw) as RejectedRow).proposed ?? null) : null,
    /** the parameters that a postback carried */
    parameters: group.kind === 'postback' ? parametersOf(group.raw) : [],
  }))

/** What somebody does about a group: say what it lacked, correct it, try again, or drop it. */
export type Mend =
  | { do: 'again' }
  | { do: 'drop' }
  | { do: 'status'; means: SaleStatus }
  | { do: 'parameter'; parameter: string }
  | { do: 'value'; value: string }
  | { do: 'rate'; date: string; rate: string }

/**
 * Mends a group and takes it in. What still cannot be read stays set aside.
 *
 * @returns how many were taken in or dropped
 */
export async function mendGroup(
  database: Database,
  workspace: Workspace,
  alike: Alike,
  mend: Mend,
  /** one of the group alone */
  only?: string,
): Promise<number> {
  const { id } = workspace
  if (mend.do === 'status' || mend.do === 'parameter') await teachPartner(database, id, alike, mend)
  if (mend.do === 'rate') {
    const currency = alike.facts.currency ?? alike.facts.value
    const row = `${mend.date},${currency},${workspace.settings.currency},${mend.rate}`
    const { rejected } = await importFile(database, workspace, 'rates', `date,base,quote,rate\n${row}\n`)
    if (rejected[0]) throw new Error(`The ${rejected[0].column} cannot be read.`)
  }
  const items = (await listAlike(database, id, alike)).filter(item => !only || item.id === only)
  if (mend.do === 'drop') {
    await settle(
      database,
      id,
      items.map(i => i.id),
      'dropped',
    )
    return items.length
  }
  if (alike.kind === 'row') return mendRows(database, workspace, alike, items, mend)
  let settled = 0
  for (const item of items)
    await database.transaction(async transaction => {
      const taken =
        item.kind === 'postback'
          ? await storePostbacks(transaction, id, postbackOf(item.raw))
          : item.kind === 'line'
            ? await storeLine(transaction, item)
            : item.kind === 'order' && (await storeOrderMessage(transaction, workspace, item.raw)) !== null
      if (!taken) return
      await settle(transaction, id, [item.id], 'taken')
      await raiseVersion(transaction, id, 'rules', 'delivery', 'claims')
      settled += 1
    })
  return settled
}

/** Takes rejected rows of a file in again, with one cell corrected where somebody did. */
async function mendRows(
  database: Database,
  workspace: Workspace,
  { facts }: Alike,
  items: readonly { id: string; raw: string }[],
  mend: Mend,
): Promise<number> {
  const kind = facts.file ?? ''
  if (!isFileKind(kind)) return 0
  const corrected = mend.do === 'value' ? { [facts.column ?? '']: mend.value } : {}
  const rows = items.flatMap(({ id, raw }) => {
    const cells = cellsOf(raw)
    return cells ? [{ id, line: 0, cells: { ...cells, ...corrected } }] : []
  })
  const columns = [...new Set(rows.flatMap(r => Object.keys(r.cells)))]
  const content = writeCsv(
    columns,
    rows.map(r => r.cells),
  )
  const file = 'rows set aside'
  // On which line each stands the reader itself says: cells may hold line breaks of any kind.
  let next = 0
  eachRowsCells(kind, content, file, (_, line) => {
    const row = rows[next++]
    if (row) row.line = line
  })
  const { rejected } = await runJob('mend', workspace, { kind, content, file }, {}, database)
  const bad = new Set(rejected.map(r => r.line))
  const taken = rows.filter(r => !bad.has(r.line)).map(r => r.id)
  await settle(database, workspace.id, taken, 'taken')
  // What is still wrong waits as it was corrected, in the place of what it was before. That may be the same
  // row, or one that was dropped once.
  if (mend.do === 'value') {
    const waiting = rejected.map(reject => asideOf(kind, file)(reject).id)
    await settle(database, workspace.id, waiting, null)
    const replaced = rows.filter(r => bad.has(r.line) && !waiting.includes(r.id)).map(r => r.id)
    await settle(database, workspace.id, replaced, 'dropped')
  }
  return taken.length
}

function cellsOf(raw: string): Record<string, string> | null {
  const { cells } = JSON.parse(raw) as { cells?: Record<string, string> }
  return cells ?? null
}

/** Takes in a line of the journal that the database once refused. */
async function storeLine(
  database: Executor,
  { raw, facts }: { raw: string; facts: Record<string, string> },
): Promise<boolean> {
  const read = readEntry(Buffer.from(raw, facts.written === 'base64' ? 'base64' : 'utf8'))
  if ('arrival' in read) await storeArrivals(database, [read.arrival])
  return 'arrival' in read
}

function postbackOf(raw: string) {
  const arrival = arrivalSchema.parse(JSON.parse(raw))
  return arrival.kind === 'postback' ? [arrival] : []
}
const parametersOf = (raw: string): string[] => [
  ...new Set(postbackOf(raw).flatMap(({ query }) => [...readParameters(query).keys()])),
]

const fieldOfReason: Record<string, PostbackField> = {
  no_deal: 'deal',
  not_an_amount: 'amount',
  not_a_currency: 'currency',
  unknown_status: 'status',
}

/** Keeps what somebody says of a partner's postbacks: what a word means, or in which parameter a fact stands. */
async function teachPartner(
  database: Database,
  workspace: string,
  { reason, facts }: Alike,
  mend: { do: 'status'; means: SaleStatus } | { do: 'parameter'; parameter: string },
): Promise<void> {
  const stored = (await listPartners(database, workspace)).find(p => p.id === facts.partner)
  if (!stored) throw new Error(`There is no partner ${facts.partner}.`)
  const { partner } = stored
  const word = (facts.value ?? '').toLowerCase()
  const field = fieldOfReason[reason]
  const learnt =
    mend.do === 'status'
      ? {
          statuses: Object.fromEntries(
            saleStatuses.map(s => [
              s,
              [...(partner.statuses[s] ?? []).filter(w => w !== word), ...(s === mend.means ? [word] : [])],
            ]),
          ),
        }
      : { parameters: { ...partner.parameters, ...(field ? { [field]: mend.parameter } : {}) } }
  await savePartner(database, workspace, { ...stored, partner: { ...partner, ...learnt } })
  await publishRoutes(database, workspace)
}

/** Says of which network a source on orders is; empty for one that is no ad. */
export const nameSource = (
  database: Database,
  { id, settings }: Workspace,
  source: string,
  network: string,
) =>
  saveSettings(database, id, {
    ...settings,
    source_names: { ...settings.source_names, [source.toLowerCase()]: network },
  })

/** All that waits, as CSV: why, and of a row where it stood and what it held. */
export async function* asideCsv(database: Database, workspace: string): AsyncGenerator<string> {
  const columns = ['kind', 'reason', 'file', 'line', 'column', 'at', 'content']
  yield writeCsv(columns, [])
  for await (const page of eachAside(database, workspace)) {
    const rows = page.map(({ kind, reason, facts, at, raw }) => {
      const row: Partial<RejectedRow> = kind === 'row' ? JSON.parse(raw) : {}
      const content = row.cells ? JSON.stringify(row.cells) : (row.text ?? raw)
      const place = { file: row.file ?? '', line: row.line ?? '', column: facts.column ?? '' }
      return { kind, reason, ...place, at: at.toISOString(), content }
    })
    // Its heading is there already.
    const text = writeCsv(columns, rows)
    yield text.slice(text.indexOf('\n') + 1)
  }
}
