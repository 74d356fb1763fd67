import { type SQL, sql } from 'drizzle-orm'
import type { FileKind } from '@/core/intake/records'
import type { Executor } from './connect'
import { readSegment } from './segment'

/** What leaves as a file of a period, beside the exchange files. */
export type RecordKind = FileKind | 'events' | 'sales' | 'set-aside'
export interface Cut {
  /** `YYYY-MM-DD`, both included */
  from: string
  to: string
  network: string | null
  zone: string
}
type Row = Record<string, unknown>

const tables: Record<
  Exclude<RecordKind, 'ads'>,
  { table: string; day: (zone: string) => SQL; ofNetwork: boolean }
> = {
  delivery: { table: 'delivery', day: () => sql`day`, ofNetwork: true },
  clicks: { table: 'clicks', day: zone => sql`(clicked_at at time zone ${zone})::date`, ofNetwork: true },
  orders: { table: 'orders', day: zone => sql`(ordered_at at time zone ${zone})::date`, ofNetwork: false },
  claims: { table: 'claim_sums', day: () => sql`day`, ofNetwork: true },
  'claim-rows': { table: 'claim_rows', day: () => sql`day`, ofNetwork: true },
  rates: { table: 'rates', day: () => sql`day`, ofNetwork: false },
  events: { table: 'events', day: () => sql`day`, ofNetwork: false },
  sales: { table: 'sales', day: zone => sql`(first_at at time zone ${zone})::date`, ofNetwork: false },
  'set-aside': {
    table: 'set_aside',
    day: zone => sql`(at at time zone ${zone})::date`,
    ofNetwork: false,
  },
}

const ofCut = (kind: Exclude<RecordKind, 'ads'>, network: string | null) =>
  network && tables[kind].ofNetwork ? sql`and network = ${network}` : sql``

/** The days of which a cut holds rows of a kind, in order. */
export async function daysOf(
  database: Executor,
  workspace: string,
  kind: Exclude<RecordKind, 'ads'>,
  { from, to, network, zone }: Cut,
): Promise<string[]> {
  const { table, day } = tables[kind]
  const { rows } = await database.execute<{ day: string }>(sql`
    select distinct ${day(zone)}::text as day from ${sql.raw(`"${table}"`)}
    where workspace = ${workspace} and ${day(zone)} between ${from}::date and ${to}::date ${ofCut(kind, network)}
    order by 1`)
  return rows.map(row => row.day)
}

/** A day's rows of a kind, as the database holds them. */
export async function rowsOfDay(
  database: Executor,
  workspace: string,
  kind: Exclude<RecordKind, 'ads'>,
  day: string,
  { network, zone }: Pick<Cut, 'network' | 'zone'>,
): Promise<Row[]> {
  const { table, day: dayOf } = tables[kind]
  // Clicks and events are kept by their day in UTC, which is at most a day from that of the zone.
  const near = kind === 'clicks' ? sql`and day between ${day}::date - 1 and ${day}::date + 1` : sql``
  const { rows } = await database.execute<Row>(sql`select * from ${sql.raw(`"${table}"`)}
    where workspace = ${workspace} and ${dayOf(zone)} = ${day}::date ${near}
      ${ofCut(kind, network)} order by 1, 2, 3`)
  return kind === 'delivery' ? rows.map(row => ({ ...row, ...readSegment(String(row.segment)) })) : rows
}

/** The columns of their own that rows of a kind brought. */
export async function extraColumns(
  database: Executor,
  workspace: string,
  kind: Exclude<RecordKind, 'ads'>,
): Promise<string[]> {
  if (kind === 'sales' || kind === 'set-aside') return []
  const { rows } = await database.execute<{ key: string }>(
    sql`select distinct jsonb_object_keys(attributes) as key from ${sql.raw(`"${tables[kind].table}"`)}
      where workspace = ${workspace} and jsonb_typeof(attributes) = 'object' order by 1`,
  )
  return rows.map(row => row.key)
}
