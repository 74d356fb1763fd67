import { type SQL, sql } from 'drizzle-orm'
import { getTableConfig, type PgTable } from 'drizzle-orm/pg-core'
import { ofNetworks, type Removable, type Removal } from '@/core/intake/removal'
import { columnsOf } from './columnsOf'
import type { Executor } from './connect'
import { nextRevision } from './revision'
import {
  claimRows,
  claimSums,
  clicks,
  delivery,
  events,
  hops,
  orders,
  postbacks,
  relays,
  sales,
  setAside,
  testRecords,
} from './schema'

interface Kept {
  table: PgTable
  /** the day on which a row stands, in a zone */
  day: (zone: string) => SQL
}
const dated: Kept['day'] = () => sql`day`
const at =
  (column: string): Kept['day'] =>
  zone =>
    sql`(${sql.raw(column)} at time zone ${zone})::date`

/** The tables that hold what may be removed. */
const removables: Record<Removable, readonly Kept[]> = {
  orders: [
    { table: orders, day: at('ordered_at') },
    { table: sales, day: at('first_at') },
  ],
  reports: [
    { table: delivery, day: dated },
    { table: claimSums, day: dated },
    { table: claimRows, day: dated },
  ],
  clicks: [{ table: clicks, day: at('clicked_at') }],
  events: [
    { table: events, day: at('at') },
    { table: hops, day: at('at') },
    { table: postbacks, day: at('at') },
  ],
  aside: [{ table: setAside, day: at('at') }],
}
function partsOf({ kinds, from, to, network }: Removal, zone: string) {
  return kinds.flatMap(kind =>
    removables[kind]
      .filter(() => !network || ofNetworks.includes(kind))
      .map(({ table, day }) => ({
        kind,
        table,
        where: sql.join(
          [
            ...(from ? [sql`${day(zone)} >= ${from}::date`] : []),
            ...(to ? [sql`${day(zone)} <= ${to}::date`] : []),
            ...(network ? [sql`network = ${network}`] : []),
            sql`true`,
          ],
          sql` and `,
        ),
      })),
  )
}

const nameOf = (table: PgTable) => sql.raw(`"${getTableConfig(table).name}"`)

/** How many rows a removal would take out, by kind. */
export async function countRemoval(
  database: Executor,
  workspace: string,
  removal: Removal,
  zone: string,
): Promise<Partial<Record<Removable, number>>> {
  const counts: Partial<Record<Removable, number>> = {}
  for (const { kind, table, where } of partsOf(removal, zone)) {
    const { rows } = await database.execute<{ n: number }>(
      sql`select count(*)::int as n from ${nameOf(table)} where workspace = ${workspace} and ${where}`,
    )
    counts[kind] = (counts[kind] ?? 0) + (rows[0]?.n ?? 0)
  }
  return counts
}

/** Rows that were removed wait under a name of their own until nobody can want them back. */
const MARK = ' removed '
export const removedFrom = (workspace: string, at: Date): string => `${workspace}${MARK}${at.toISOString()}`

/** Puts rows under another workspace's name, those alone that it has not already. */
async function move(
  database: Executor,
  table: PgTable,
  { from, to, where, revision }: { from: string; to: string; where: SQL; revision: number | null },
): Promise<void> {
  const names = columnsOf(table).filter(name => name !== 'workspace')
  const columns = sql.raw(names.map(name => `"${name}"`).join(', '))
  const values = sql.join(
    names.map(name =>
      name === 'revision' && revision !== null ? sql`${revision}::bigint` : sql.raw(`"${name}"`),
    ),
    sql.raw(', '),
  )
  await database.execute(sql`insert into ${nameOf(table)} (workspace, ${columns})
    select ${to}, ${values} from ${nameOf(table)} where workspace = ${from} and ${where} on conflict do nothing`)
  await database.execute(sql`delete from ${nameOf(table)} where workspace = ${from} and ${where}`)
}

/** Takes rows out; they wait under `removedFrom`. To be called in a transaction that raises the version. */
export async function takeOut(
  database: Executor,
  workspace: string,
  removal: Removal,
  zone: string,
  to: string,
): Promise<void> {
  await nextRevision(database, workspace)
  for (const { table, where } of partsOf(removal, zone))
    await move(database, table, { from: workspace, to, where, revision: null })
}

/** Brings what was taken out back; what came again meanwhile stays as it came. */
export async function bringBack(database: Executor, workspace: string, from: string): Promise<void> {
  const revision = await nextRevision(database, workspace)
  for (const { table } of Object.values(removables).flat())
    await move(database, table, { from, to: workspace, where: sql`true`, revision })
}

/** Forgets for good what was taken out before an instant. */
export async function forgetRemoved(database: Executor, before: Date): Promise<void> {
  for (const { table } of Object.values(removables).flat())
    await database.execute(
      sql`delete from ${nameOf(table)} where workspace like ${`%${MARK}%`} and split_part(workspace, ${MARK}, 2) < ${before.toISOString()}`,
    )
}

/** What no cost stands on, older than an instant: pages that were seen, hops, what was told or tried. */
const idle = (workspace: string, before: Date) => [
  sql`events where workspace = ${workspace} and day < ${before.toISOString().slice(0, 10)} and not coalesce(attributes ? 'rule', false)`,
  sql`hops where workspace = ${workspace} and day < ${before.toISOString().slice(0, 10)}`,
  sql`${nameOf(relays)} where workspace = ${workspace} and at < ${before} and state not in ('waiting')`,
  sql`${nameOf(testRecords)} where workspace = ${workspace} and at < ${before}`,
  sql`${nameOf(setAside)} where workspace = ${workspace} and at < ${before} and settled is not null`,
]

export async function countIdle(database: Executor, workspace: string, before: Date): Promise<number> {
  let idleRows = 0
  for (const rows of idle(workspace, before)) {
    const found = await database.execute<{ n: number }>(sql`select count(*)::int as n from ${rows}`)
    idleRows += found.rows[0]?.n ?? 0
  }
  return idleRows
}

export async function forgetIdle(database: Executor, workspace: string, before: Date): Promise<void> {
  for (const rows of idle(workspace, before)) await database.execute(sql`delete from ${rows}`)
}
