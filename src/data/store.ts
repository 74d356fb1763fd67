import { getTableColumns, type SQL, sql } from 'drizzle-orm'
import { type AnyPgColumn, getTableConfig, type PgTable } from 'drizzle-orm/pg-core'
import type { Executor } from './connect'
import { isThereAlready } from './errors'
import { keepBefore } from './importLog'
import { nextRevision } from './revision'

/** Rows stored at a time: between two such parts others get at the database. */
export const ROWS_AT_ONCE = 4000

const identifiers = (list: readonly string[], prefix = '') =>
  sql.join(
    list.map(n => sql.raw(`${prefix}"${n}"`)),
    sql.raw(', '),
  )

/**
 * A table's columns that rows have, each with a short name by which its cells are sent, which are read a tenth
 * faster by it, and its type, as `json_to_recordset` wants them.
 */
function describe(table: PgTable, row: Record<string, unknown>) {
  const { name, primaryKeys } = getTableConfig(table)
  const columns = Object.values(getTableColumns(table))
    .map((column, i) => ({ name: column.name, sent: i.toString(36), type: column.getSQLType() }))
    .filter(column => column.name in row)
  return {
    name: sql.raw(`"${name}"`),
    prefix: `"${name}".`,
    key: primaryKeys[0]?.columns.map(c => c.name) ?? [],
    revised: 'revision' in getTableColumns(table),
    columns,
    types: sql.raw(columns.map(c => `"${c.sent}" ${c.type}`).join(', ')),
  }
}
type Described = ReturnType<typeof describe>
const namesOf = (columns: Described['columns']) => columns.map(column => column.name)

/** Columns to insert and what to select for them, with the revision where a table has one. */
async function insertion(
  database: Executor,
  { columns, revised }: Pick<Described, 'columns' | 'revised'>,
  workspace: unknown,
) {
  const into = identifiers(namesOf(columns))
  const select = identifiers(columns.map(column => column.sent))
  if (!revised) return { into, select }
  const revision = await nextRevision(database, String(workspace))
  return { into: sql`${into}, revision`, select: sql`${select}, ${revision}::bigint` }
}

/**
 * Whether a column holds one of some values, which go as one parameter: a parameter a value ends at 65,535,
 * and in a full call stack before that.
 */
export const oneOf = (column: AnyPgColumn, values: readonly string[]): SQL =>
  sql`${column} = any (array(select value::${sql.raw(column.getSQLType())} from jsonb_array_elements_text(${JSON.stringify(values)}::jsonb) as value))`

/**
 * Stores rows that never change: one that is there already stays as it is. Rows are made while the
 * database is busy with those before.
 */
export async function insertRows<T>(
  database: Executor,
  table: PgTable,
  items: readonly T[],
  toRow: (item: T) => Record<string, unknown>,
): Promise<void> {
  let stored: Promise<unknown> = Promise.resolve()
  for (let i = 0; i < items.length; i += ROWS_AT_ONCE) {
    const rows = items.slice(i, i + ROWS_AT_ONCE).map(toRow)
    // Columns that are empty throughout are left to the database: what is not sent need not be read.
    const { name, columns, types, revised } = describe(table, usedIn(rows))
    const batch = JSON.stringify(rows.map(row => filled(row, columns)))
    await stored
    await keepBefore(database, table, rows)
    const { into, select } = await insertion(database, { columns, revised }, rows[0]?.workspace)
    const insert = sql`insert into ${name} (${into}) select ${select} from json_to_recordset(${batch}::json) as r(${types})`
    stored = insertNew(database, insert, async () => sql`${insert} on conflict do nothing`)
  }
  await stored
}

/** What some columns of a row hold; empty ones are not sent, which a fifth of the time went into. */
function filled(
  row: Readonly<Record<string, unknown>>,
  columns: Described['columns'],
): Record<string, unknown> {
  const some: Record<string, unknown> = {}
  for (const { name, sent } of columns) {
    const value = row[name]
    if (value !== null && value !== undefined) some[sent] = value
  }
  return some
}

/** The columns of which some row holds anything. */
function usedIn(rows: readonly Record<string, unknown>[]): Record<string, true> {
  const used: Record<string, true> = {}
  for (const row of rows)
    for (const key in row) if (row[key] !== null && row[key] !== undefined) used[key] = true
  return used
}

/**
 * Inserts rows, and where one is there already, inserts them as `otherwise` says. Looking each row up for a
 * conflict costs a fifth of the time, and there hardly ever is one: so it is looked for only when the plain
 * insert found one.
 */
async function insertNew(database: Executor, insert: SQL, otherwise: () => Promise<SQL>): Promise<number> {
  try {
    const { rowCount } = await database.transaction(inner => inner.execute(insert))
    return rowCount ?? 0
  } catch (error) {
    if (!isThereAlready(error)) throw error
    const { rowCount } = await database.execute(await otherwise())
    return rowCount ?? 0
  }
}

/**
 * Makes rows ready to be stored: as one JSON parameter that the database expands, an order of magnitude
 * faster than a parameter a value. Rows already there are replaced when they differ.
 *
 * @param unless a condition under which a row that is there stays as it is; the new one is `excluded`
 * @returns what stores them, and gives how many were new or changed
 */
export function prepareUpsert(
  table: PgTable,
  rows: readonly [Record<string, unknown>, ...Record<string, unknown>[]],
  unless?: SQL,
): (database: Executor) => Promise<number> {
  const all = describe(table, rows[0])
  const rest = namesOf(all.columns).filter(n => !all.key.includes(n))
  const set = sql.raw(rest.map(n => `"${n}" = excluded."${n}"`).join(', '))
  const onConflict: SQL =
    rest.length > 0
      ? sql`do update set ${set}${all.revised ? sql`, revision = excluded.revision` : sql``} where (${identifiers(rest, all.prefix)}) is distinct from (${identifiers(rest, 'excluded.')})${unless ? sql` and not coalesce(${unless}, false)` : sql``}`
      : sql`do nothing`
  // Columns that are empty throughout are left to the database, as long as there is nothing that they would empty.
  const used = describe(table, usedIn(rows))
  const batch = JSON.stringify(rows.map(row => filled(row, used.columns)))
  return async database => {
    await keepBefore(database, table, rows)
    const insertOf = async ({ name, types, ...of }: Described) => {
      const { into, select } = await insertion(database, of, rows[0].workspace)
      return sql`insert into ${name} (${into}) select ${select} from json_to_recordset(${batch}::json) as r(${types})`
    }
    return insertNew(
      database,
      await insertOf(used),
      async () => sql`${await insertOf(all)} on conflict (${identifiers(all.key)}) ${onConflict}`,
    )
  }
}

/** Stores rows in batches, as `prepareUpsert` says. */
export async function upsertRows(
  database: Executor,
  table: PgTable,
  rows: readonly Record<string, unknown>[],
  { unless }: { unless?: SQL } = {},
): Promise<number> {
  let changed = 0
  for (let i = 0; i < rows.length; i += ROWS_AT_ONCE) {
    const [first, ...more] = rows.slice(i, i + ROWS_AT_ONCE)
    changed += await prepareUpsert(table, [first!, ...more], unless)(database)
  }
  return changed
}
