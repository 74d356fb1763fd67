import { sql } from 'drizzle-orm'
import { type Day, formatDay } from '@/core/shared/days'
import type { Executor } from './connect'

/** Tables that grow with every day, and of which figures ask for a period. */
export const partitioned = [
  'clicks',
  'events',
  'hops',
  'postbacks',
  'claim_rows',
  'claim_sums',
  'delivery',
] as const
/** Months beyond the present one that have their partition before anything is dated in them. */
const MONTHS_AHEAD = 2
/** What is dated earlier is a slip, or made up to do harm: it has no partition of its own. */
const YEARS_BACK = 10

const monthOf = (day: string) => day.slice(0, 7)
const nextMonth = (month: string): string => {
  const [year, number] = month.split('-').map(Number)
  return new Date(Date.UTC(year!, number!, 1)).toISOString().slice(0, 7)
}

/**
 * On a PostgreSQL server, parts the tables that grow by the month of their day, as PostgreSQL declares it, and sees
 * that there is a partition for each month that rows are dated in, and for those to come. What is dated otherwise
 * waits in a partition of its own until the next time. Does nothing that is done already; rows stay as they are.
 *
 * @param transaction which holds the lock of those who change the schema
 */
export async function partitionByMonth(transaction: Executor, today: Day): Promise<void> {
  for (const table of partitioned) {
    if (!(await isPartitioned(transaction, table))) await partitionTable(transaction, table, today)
    await addMonths(transaction, table, today)
  }
}

const rowsOf = async <Row extends Record<string, unknown>>(database: Executor, text: string) =>
  (await database.execute<Row>(sql.raw(text))).rows

async function isPartitioned(database: Executor, table: string): Promise<boolean> {
  const [found] = await rowsOf<{ relkind: string }>(
    database,
    `select relkind from pg_class where oid = '${table}'::regclass`,
  )
  return found?.relkind === 'p'
}

/** Puts a partitioned table in the place of a plain one: with its rows, keys, indexes, and the views on it. */
async function partitionTable(database: Executor, table: string, today: Day): Promise<void> {
  const run = (text: string) => database.execute(sql.raw(text))
  const views = await rowsOf<{ name: string; definition: string }>(
    database,
    `select distinct v.oid::regclass::text as name, pg_get_viewdef(v.oid) as definition
     from pg_depend d join pg_rewrite r on r.oid = d.objid join pg_class v on v.oid = r.ev_class
     where d.refobjid = '${table}'::regclass and v.relkind = 'v'`,
  )
  const indexes = await rowsOf<{ name: string; definition: string; key: string | null }>(
    database,
    `select i.indexrelid::regclass::text as name, pg_get_indexdef(i.indexrelid) as definition,
       pg_get_constraintdef(c.oid) as key
     from pg_index i left join pg_constraint c on c.conindid = i.indexrelid and c.contype = 'p'
     where i.indrelid = '${table}'::regclass`,
  )
  for (const { name } of views) await run(`drop view ${name}`)
  await run(`alter table ${table} rename to ${table}_before`)
  // Some names are as long as names may be.
  for (const [i, { name }] of indexes.entries())
    await run(`alter index ${name} rename to ${table}_before_${i}`)
  await run(`create table ${table} (like ${table}_before including defaults) partition by range (day)`)
  for (const { name, definition, key } of indexes)
    await run(key ? `alter table ${table} add constraint ${name} ${key}` : definition)
  await run(`create table ${table}_undated partition of ${table} default`)
  for (const month of await monthsIn(database, `${table}_before`, today))
    await run(monthPartition(table, month))
  await run(`insert into ${table} select * from ${table}_before`)
  await run(`drop table ${table}_before`)
  for (const { name, definition } of views) await run(`create view ${name} as ${definition}`)
}

/** The present month and those that need a partition before they begin. */
function monthsAhead(today: Day): string[] {
  const months = [monthOf(formatDay(today))]
  for (let i = 0; i < MONTHS_AHEAD; i++) months.push(nextMonth(months.at(-1)!))
  return months
}

/** The months in which rows of a table are dated, as far as records have any business there. */
async function monthsIn(database: Executor, table: string, today: Day): Promise<string[]> {
  const last = nextMonth(monthsAhead(today).at(-1)!)
  const rows = await rowsOf<{ month: string }>(
    database,
    `select distinct to_char(day, 'YYYY-MM') as month from ${table}
     where day >= '${formatDay(today)}'::date - interval '${YEARS_BACK} years' and day < '${last}-01' order by 1`,
  )
  return rows.map(({ month }) => month)
}

const nameOf = (table: string, month: string) => `${table}_${month.replace('-', '_')}`
const range = (month: string) => `for values from ('${month}-01') to ('${nextMonth(month)}-01')`
const monthPartition = (table: string, month: string) =>
  `create table ${nameOf(table, month)} partition of ${table} ${range(month)}`

/** Adds what months lack; rows that waited for theirs go into it. */
async function addMonths(database: Executor, table: string, today: Day): Promise<void> {
  const run = (text: string) => database.execute(sql.raw(text))
  const known = await rowsOf<{ name: string }>(
    database,
    `select inhrelid::regclass::text as name from pg_inherits where inhparent = '${table}'::regclass`,
  )
  const waiting = await monthsIn(database, `${table}_undated`, today)
  for (const month of new Set([...waiting, ...monthsAhead(today)])) {
    const name = nameOf(table, month)
    if (known.some(partition => partition.name === name)) continue
    if (!waiting.includes(month)) await run(monthPartition(table, month))
    else {
      await run(`create table ${name} (like ${table} including defaults)`)
      await run(
        `with moved as (delete from ${table}_undated where day >= '${month}-01' and day < '${nextMonth(month)}-01' returning *)
         insert into ${name} select * from moved`,
      )
      await run(`alter table ${table} attach partition ${name} ${range(month)}`)
    }
  }
}
