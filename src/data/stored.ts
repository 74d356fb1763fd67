import type * as z from 'zod'

/** Something in the database that this version cannot read: left out, and named where people look. */
export interface Unreadable {
  table: string
  id: string
  why: string
}

/** On the process: Next bundles pages and what starts with the server apart from each other. */
const held = globalThis as { aequantUnreadable?: Map<string, Unreadable> }
const unreadable = (held.aequantUnreadable ??= new Map<string, Unreadable>())

const note = (table: string, id: string, error: z.ZodError | null): void => {
  const key = JSON.stringify([table, id])
  const [issue] = error?.issues ?? []
  if (!issue) unreadable.delete(key)
  else unreadable.set(key, { table, id, why: `${issue.path.join('.')}: ${issue.message}` })
}

/** What could not be read of the database since this process began, or since it was mended. */
export const listUnreadable = (): Unreadable[] => [...unreadable.values()]

/**
 * Reads what the database holds by its schema. One row that cannot be read never keeps others from being
 * read, nor the application from starting: it is left out and noted.
 */
export function readStored<Row, Schema extends z.ZodType>(
  table: string,
  schema: Schema,
  rows: readonly Row[],
  of: (row: Row) => { id: string; value: unknown },
): { row: Row; value: z.output<Schema> }[] {
  return rows.flatMap(row => {
    const { id, value } = of(row)
    const read = schema.safeParse(value)
    note(table, id, read.error ?? null)
    return read.success ? [{ row, value: read.data }] : []
  })
}

/** Reads an object all of whose fields have defaults: those that cannot be read are as if nobody had set them. */
export function readWithDefaults<Schema extends z.ZodType>(
  table: string,
  id: string,
  schema: Schema,
  value: unknown,
): z.output<Schema> {
  const read = schema.safeParse(value)
  note(table, id, read.error ?? null)
  if (read.success) return read.data
  const bad = new Set(read.error.issues.map(issue => String(issue.path[0] ?? '')))
  const good = typeof value === 'object' && value !== null && !bad.has('') ? value : {}
  return schema.parse(Object.fromEntries(Object.entries(good).filter(([key]) => !bad.has(key))))
}
