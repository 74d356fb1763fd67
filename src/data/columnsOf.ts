import { getTableColumns } from 'drizzle-orm'
import type { PgTable } from 'drizzle-orm/pg-core'

/** The columns of a table that are written; the database fills the others in by itself. */
export const columnsOf = (table: PgTable): string[] =>
  Object.values(getTableColumns(table)).flatMap(({ name, generated }) => (generated ? [] : name))
