import Papa from 'papaparse'
import { FileRefused } from './csv'

type Flat = Record<string, string>

/** As many as any table is read with. */
const MOST_COLUMNS = 300

/** Whether a text is JSON: a list, an object, or an object a line (JSON Lines). */
export const isJson = (text: string): boolean => /^\uFEFF?\s*[[{]/.test(text)

/**
 * The records of a JSON text as rows of a table: members of members by a dot between (`customer.id`), and a row for
 * each item of the list that a record holds, such as the lines of an order. Null for what is no such JSON.
 *
 * @throws FileRefused where its records have too many keys
 *
 * @example
 * jsonTable('{"id":"A","total":"5.00","customer":{"no":7}}') // 'id,total,customer.no\r\nA,5.00,7'
 */
export function jsonTable(text: string, file = 'The file'): string | null {
  const records = recordsIn(text.replace(/^\uFEFF/, ''))
  if (!records) return null
  const rows: Flat[] = []
  const seen = new Set<string>()
  for (const record of records)
    for (const row of rowsOf(record)) {
      rows.push(row)
      for (const key in row) seen.add(key)
      if (seen.size > MOST_COLUMNS) throw new FileRefused('too_many_columns', { file })
    }
  const columns = [...seen]
  return columns.length < 2
    ? null
    : Papa.unparse({ fields: columns, data: rows.map(row => columns.map(c => row[c] ?? '')) })
}

function recordsIn(text: string): readonly Record<string, unknown>[] | null {
  const objects = (list: readonly unknown[]) => (list.every(isObject) ? list : null)
  const whole = parsed(text)
  if (Array.isArray(whole)) return objects(whole)
  if (isObject(whole)) {
    // What wraps a list of records: `{"orders": […]}`.
    const lists = Object.values(whole).filter(value => Array.isArray(value) && value.length > 0)
    const [only] = lists
    const isWrap =
      lists.length === 1 && Object.values(whole).every(value => value === only || !isObject(value))
    return isWrap && !Object.keys(whole).some(key => /id|number|no$/i.test(key))
      ? objects(only as unknown[])
      : [whole]
  }
  const lines = text.split(/\r?\n/).filter(line => line.trim() !== '')
  return objects(lines.map(parsed))
}

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value)
function parsed(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch {
    return undefined
  }
}

/** A record flat; one row for each item of its first list of records. */
function rowsOf(record: Record<string, unknown>): Flat[] {
  const own: Flat = {}
  let items: { key: string; list: Record<string, unknown>[] } | null = null
  const walk = (value: Record<string, unknown>, before: string) => {
    for (const [key, inner] of Object.entries(value)) {
      const name = before ? `${before}.${key}` : key
      if (isObject(inner)) walk(inner, name)
      else if (Array.isArray(inner)) {
        if (inner.length > 0 && inner.every(isObject)) items ??= { key: name, list: inner }
        else own[name] = inner.join(' ')
      } else own[name] = inner === null || inner === undefined ? '' : String(inner)
    }
  }
  walk(record, '')
  const { key, list } = items ?? { key: '', list: [] as Record<string, unknown>[] }
  if (list.length === 0) return [own]
  return list.flatMap(item =>
    rowsOf(item).map(flat => ({
      ...own,
      ...Object.fromEntries(Object.entries(flat).map(([name, value]) => [`${key}.${name}`, value])),
    })),
  )
}
