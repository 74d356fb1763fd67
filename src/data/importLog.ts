import { AsyncLocalStorage } from 'node:async_hooks'
import { and, desc, eq, getTableColumns, lt, sql } from 'drizzle-orm'
import { getTableConfig, type PgTable } from 'drizzle-orm/pg-core'
import { columnsOf } from './columnsOf'
import type { Executor } from './connect'
import { nextRevision } from './revision'
import * as schema from './schema'

/** An import under way, whose rows are kept as they were before it. */
interface Import {
  workspace: string
  batch: string
}
const underWay = new AsyncLocalStorage<Import>()

/** Does an import; what rows were before it is kept, so that it can be undone. */
export const logged = <T>(own: Import, run: () => Promise<T>): Promise<T> => underWay.run(own, run)
/** The ID of the import under way, if any. */
export const currentImport = (): string | null => underWay.getStore()?.batch ?? null

type Row = Readonly<Record<string, unknown>>

/** The columns of a table's key, with what JSON wants of them. */
function keyOf(table: PgTable) {
  const { name, primaryKeys } = getTableConfig(table)
  const key = primaryKeys[0]?.columns.map(column => column.name) ?? []
  const types = Object.values(getTableColumns(table)).filter(column => key.includes(column.name))
  const list = (prefix: string) => sql.raw(key.map(column => `${prefix}"${column}"`).join(', '))
  return {
    key,
    name: sql.raw(`"${name}"`),
    text: name,
    list,
    typed: sql.raw(types.map(column => `"${column.name}" ${column.getSQLType()}`).join(', ')),
    object: sql.raw(`jsonb_build_object(${key.map(column => `'${column}', t."${column}"`).join(', ')})`),
    revised: 'revision' in getTableColumns(table),
  }
}

/** Keeps rows as they are before some with the same keys are written, where an import is under way. */
export async function keepBefore(database: Executor, table: PgTable, rows: readonly Row[]): Promise<void> {
  const own = underWay.getStore()
  if (!own || rows.length === 0) return
  const { key, name, text, list, typed, revised } = keyOf(table)
  const keys = JSON.stringify(rows.map(row => Object.fromEntries(key.map(column => [column, row[column]]))))
  const revision = revised ? await nextRevision(database, own.workspace) : null
  await database.execute(sql`
    insert into import_log (workspace, batch, table_name, keys, rows, revision)
    select ${own.workspace}, ${own.batch}, ${text}, ${keys}::jsonb,
      (select coalesce(jsonb_agg(to_jsonb(t)), '[]') from json_to_recordset(${keys}::json) as k(${typed})
        join ${name} as t using (${list('')})), ${revision}::bigint`)
}

/** The same of all rows that a condition means, which are about to be deleted or changed. */
export async function keepAll(
  database: Executor,
  table: PgTable,
  where: ReturnType<typeof and>,
): Promise<void> {
  const own = underWay.getStore()
  if (!own) return
  const { name, text, object, revised } = keyOf(table)
  const revision = revised ? await nextRevision(database, own.workspace) : null
  await database.execute(sql`
    insert into import_log (workspace, batch, table_name, keys, rows, revision)
    select ${own.workspace}, ${own.batch}, ${text}, coalesce(jsonb_agg(${object}), '[]'),
      coalesce(jsonb_agg(to_jsonb(t)), '[]'), ${revision}::bigint
    from (select * from ${name} where ${where}) as t`)
}

const tables: readonly PgTable[] = [
  schema.delivery,
  schema.clicks,
  schema.orders,
  schema.claimSums,
  schema.claimRows,
  schema.rates,
  schema.adEntities,
  schema.adEntityNames,
  schema.setAside,
  schema.decisions,
]

/** The latest import that can be undone; null where there is none. */
export async function latestLogged(database: Executor, workspace: string): Promise<string | null> {
  const { importLog } = schema
  const [latest] = await database
    .select({ batch: importLog.batch })
    .from(importLog)
    .where(eq(importLog.workspace, workspace))
    .orderBy(desc(importLog.id))
    .limit(1)
  return latest?.batch ?? null
}

/** Puts back all that an import added, changed and replaced. What was written since stays as it is. */
export async function putBack(database: Executor, workspace: string, batch: string): Promise<void> {
  const { importLog } = schema
  const own = and(eq(importLog.workspace, workspace), eq(importLog.batch, batch))
  const revision = await nextRevision(database, workspace)
  const steps = await database
    .select({ id: importLog.id, table: importLog.table_name })
    .from(importLog)
    .where(own)
    .orderBy(desc(importLog.id))
  for (const { id, table: text } of steps) {
    const table = tables.find(one => getTableConfig(one).name === text)
    if (!table) continue
    const { name, list, typed, revised } = keyOf(table)
    const columns = columnsOf(table)
    const unchanged = revised ? sql`and t.revision <= l.revision` : sql``
    await database.execute(sql`
      delete from ${name} as t using import_log as l, jsonb_to_recordset(l.keys) as k(${typed})
      where l.id = ${id} and (${list('t.')}) = (${list('k.')}) ${unchanged}`)
    await database.execute(sql`
      insert into ${name} (${sql.raw(columns.map(column => `"${column}"`).join(', '))})
      select ${sql.join(
        columns.map(column => (column === 'revision' ? sql`${revision}::bigint` : sql.raw(`r."${column}"`))),
        sql`, `,
      )} from import_log as l, jsonb_populate_recordset(null::${name}, l.rows) as r
      where l.id = ${id} on conflict do nothing`)
  }
  await database.delete(importLog).where(own)
  await database
    .update(schema.importBatches)
    .set({ undone_at: new Date() })
    .where(and(eq(schema.importBatches.workspace, workspace), eq(schema.importBatches.id, batch)))
}

/** Forgets what nobody undoes any longer. */
export const forgetLogged = (database: Executor, before: Date) =>
  database.delete(schema.importLog).where(lt(schema.importLog.at, before))
