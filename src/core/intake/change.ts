import { pathKey } from '../shared/path'
import type { ClickColumns, ClickFacts } from './clicks'
import type { Records } from './dataset'

/** The records of a workspace as an engine keeps them: rows in an order of their own, whatever order they came in. */
export type KeptRecords = Omit<Required<Records>, 'clicks'> & {
  clicks: ClickFacts[]
  /** the ads that clicks name, also those that are not kept singly */
  clickAds: ClickColumns['ads']
}

/** Rows that come and go. Of everything else (rates, names, definitions, decisions) there is one state. */
export type Rows = Pick<
  KeptRecords,
  'delivery' | 'clicks' | 'clickAds' | 'orders' | 'claims' | 'claimRows' | 'told'
>
export type RowKind = keyof Rows

/** What came, what is otherwise now, and what is gone; a row that was not there is updated to be there, and gone without trace. */
export interface Change {
  added: Partial<Rows>
  updated: Partial<Rows>
  removed: Partial<Rows>
}

type Row<Kind extends RowKind> = Rows[Kind][number]
interface Kept<Kind extends RowKind> {
  key: (row: Row<Kind>) => string
  /** by which rows stand in order, before their keys; 0 where there is no time */
  at: (row: Row<Kind>) => number
}

const kept: { [Kind in RowKind]: Kept<Kind> } = {
  delivery: {
    key: r =>
      pathKey(
        r.network,
        r.campaign_id,
        r.ad_set_id ?? '',
        r.ad_id ?? '',
        ...[r.keyword, r.placement, r.source, r.device].map(part => part ?? ''),
        String(r.date),
      ),
    at: r => r.date,
  },
  clicks: { key: r => r.click_id, at: r => r.clicked_at },
  clickAds: { key: r => pathKey(r.network, r.campaign, r.adSet, r.ad), at: () => 0 },
  orders: { key: r => r.order_id, at: r => r.ordered_at },
  claims: {
    key: r => pathKey(r.network, r.ad_id, r.conversion, String(r.date)),
    at: r => r.date,
  },
  claimRows: { key: r => r.claim_key ?? JSON.stringify(r), at: r => r.claimed_at },
  told: { key: r => r.event_id, at: r => r.at },
}
export const rowKinds = Object.keys(kept) as RowKind[]

const compare = (a: string, b: string) => (a < b ? -1 : a > b ? 1 : 0)

/** Rows in their order, each once: of two with the same key the last holds. */
export function inOrder<Kind extends RowKind>(kind: Kind, rows: readonly Row<Kind>[]): Rows[Kind] {
  const { key, at } = kept[kind] as unknown as Kept<Kind>
  const byKey = new Map(rows.map(row => [key(row), row]))
  return [...byKey]
    .map(([key, row]) => ({ key, row, at: at(row) }))
    .sort((a, b) => a.at - b.at || compare(a.key, b.key))
    .map(({ row }) => row) as Rows[Kind]
}

/** Some rows in their order among others that stand in theirs. */
function withRows<Kind extends RowKind>(
  kind: Kind,
  before: Rows[Kind],
  more: readonly Row<Kind>[],
  gone: readonly Row<Kind>[],
): Rows[Kind] {
  if (more.length + gone.length === 0) return before
  const { key, at } = kept[kind] as unknown as Kept<Kind>
  const replaced = new Set([...more, ...gone].map(key))
  const fresh = inOrder(kind, more) as Row<Kind>[]
  const all: Row<Kind>[] = []
  let next = 0
  let nextAt = fresh[0] ? at(fresh[0]) : Number.POSITIVE_INFINITY
  for (const row of before as Row<Kind>[]) {
    const own = key(row)
    if (replaced.has(own)) continue
    const time = at(row)
    while (nextAt < time || (nextAt === time && key(fresh[next]!) < own)) {
      all.push(fresh[next++]!)
      nextAt = fresh[next] ? at(fresh[next]!) : Number.POSITIVE_INFINITY
    }
    all.push(row)
  }
  all.push(...fresh.slice(next))
  return all as Rows[Kind]
}

/** The records after a change; kinds of rows that it does not touch are the very same. */
export function withChange(records: KeptRecords, { added, updated, removed }: Change): KeptRecords {
  const after = { ...records }
  const take = <Kind extends RowKind>(kind: Kind) => {
    const more = [...(added[kind] ?? []), ...(updated[kind] ?? [])] as Row<Kind>[]
    after[kind] = withRows(kind, records[kind], more, (removed[kind] ?? []) as Row<Kind>[]) as never
  }
  rowKinds.forEach(take)
  return after
}
