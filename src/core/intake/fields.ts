import * as z from 'zod'
import { parseDay, parseInstant } from '../shared/days'
import { currencyExponent, isBeyondCounting, type Minor, parseAmount } from '../shared/money'

/** Why a value of a row was refused; words are chosen where it is shown. */
export type RejectReason =
  | 'required'
  | 'not_a_date'
  | 'other_date_order'
  | 'not_an_instant'
  | 'not_a_count'
  | 'not_a_currency'
  | 'not_an_amount'
  | 'too_large_an_amount'
  | 'negative_amount'
  | 'not_a_rate'
  | 'not_a_web_address'
  | 'unknown_status'
  | 'unknown_kind'
  | 'no_rate'
  | 'too_long'
  | 'extra_cells'
  | 'missing_cells'
  | 'bad_quotes'
  | 'no_such_order'
  | 'ends_before_it_begins'
  | 'too_long_a_stretch'

export interface Reject {
  /** line of the file, the header being line 1 */
  line: number
  column: string
  reason: RejectReason
  value?: string
  /** the row as it came, by column; absent where it could not be told apart into cells */
  cells?: Record<string, string>
  /** its text, where it could not */
  text?: string
}

/** Longest cell that is taken; readers refuse a longer one before they look at the row. */
export const LONGEST_CELL = 4096

/** Longest ID, name of a network or word by which things are kept: an index row holds no more than a few of them. */
export const LONGEST_ID = 200

const refuse = (ctx: z.RefinementCtx, reason: RejectReason) => {
  ctx.addIssue({ code: 'custom', message: reason })
  return z.NEVER
}
/** Cells arrive trimmed, an empty one as null: where a value is needed that is `required`. */
const cell = z.string({ error: 'required' satisfies RejectReason })

export const requiredText = cell
export const optionalText = cell.nullable().default(null)
export const day = requiredText.transform((s, ctx) => parseDay(s) ?? refuse(ctx, 'not_a_date'))
export const instant = requiredText.transform((s, ctx) => parseInstant(s) ?? refuse(ctx, 'not_an_instant'))
export const currency = requiredText.transform((s, ctx) =>
  currencyExponent(s.toUpperCase()) === null ? refuse(ctx, 'not_a_currency') : s.toUpperCase(),
)
/** What a day and ad can bring, and a column of the database hold. */
const MOST_COUNT = 2 ** 31 - 1
const isCount = (text: string): boolean => /^\d{1,10}$/.test(text) && Number(text) <= MOST_COUNT
export const count = optionalText.transform((s, ctx) => {
  if (s === null) return 0
  return isCount(s) ? Number(s) : refuse(ctx, 'not_a_count')
})
/** A count that may be missing: null, not nothing. */
export const optionalCount = optionalText.transform((s, ctx) => {
  if (s === null) return null
  return isCount(s) ? Number(s) : refuse(ctx, 'not_a_count')
})

/** A count of which parts are credited: in thousandths at the finest. */
const isPart = (text: string): boolean => /^\d{1,10}(\.\d{1,3})?$/.test(text) && Number(text) <= MOST_COUNT
export const requiredParts = requiredText.transform((s, ctx) =>
  isPart(s) ? Number(s) : refuse(ctx, 'not_a_count'),
)
export const optionalParts = optionalText.transform((s, ctx) => {
  if (s === null) return 0
  return isPart(s) ? Number(s) : refuse(ctx, 'not_a_count')
})

export const optionalDay = optionalText.transform((s, ctx) =>
  s === null ? null : (parseDay(s) ?? refuse(ctx, 'not_a_date')),
)
export const optionalCurrency = optionalText.transform((s, ctx) => {
  if (s === null) return null
  return currencyExponent(s.toUpperCase()) === null ? refuse(ctx, 'not_a_currency') : s.toUpperCase()
})
/** A decimal string of a currency not yet known: read with `parseAmount` once it is. */
export const optionalDecimal = optionalText.transform((s, ctx) => {
  if (s?.startsWith('-')) return refuse(ctx, 'negative_amount')
  return s === null || /^\d{1,13}(\.\d+)?$/.test(s) ? s : refuse(ctx, 'not_an_amount')
})

/**
 * Reads the named amount columns of a row in the row's own currency. An empty amount is `null`;
 * a negative one is refused, since no column of the exchange files can hold less than nothing.
 */
export function readAmounts<Key extends string>(
  row: Record<Key, string | null>,
  keys: readonly Key[],
  currencyCode: string,
  ctx: z.RefinementCtx,
): Record<Key, Minor | null> {
  const amounts = {} as Record<Key, Minor | null>
  for (const key of keys) {
    const text = row[key]
    const amount = text === null ? null : parseAmount(text, currencyCode)
    const reason: RejectReason | null =
      text !== null && amount === null
        ? isBeyondCounting(text, currencyCode)
          ? 'too_large_an_amount'
          : 'not_an_amount'
        : amount !== null && amount < 0
          ? 'negative_amount'
          : null
    if (reason) ctx.addIssue({ code: 'custom', message: reason, path: [key] })
    amounts[key] = amount
  }
  return amounts
}

/** The cells of a row by column: trimmed, an empty one as null. */
export type Cells = Record<string, string | null>

/** Columns by which rows are kept or looked up, and which stand in an index. */
const isKey =
  /^(?:\w+_)?id$|^(?:network|conversion|keyword|match_type|placement|source|device|country|result)$/
/** Bytes of all of a row's keys together: a little less than an index row holds (PostgreSQL, nbtree). */
const MOST_KEY_BYTES = 2400
const bytesOf = new TextEncoder()

/** The column of a row whose text is too long to be kept by; null where all are short enough. */
function tooLongKey(row: Cells, keys: readonly string[]): string | null {
  let length = 0
  let longest = ''
  for (const column of keys) {
    const text = row[column]
    if (!text) continue
    if (text.length > LONGEST_ID) return column
    length += text.length
    if (text.length > (row[longest]?.length ?? 0)) longest = column
  }
  // A character has three bytes at most, so that hardly any row need be looked at closely.
  if (length * 3 <= MOST_KEY_BYTES) return null
  const bytes = keys.reduce((sum, column) => sum + bytesOf.encode(row[column] ?? '').length, 0)
  return bytes > MOST_KEY_BYTES ? longest : null
}

/**
 * Reads rows by their schema and keeps the columns that it does not know. Where nothing spans cells each
 * is read by itself, and plain text as it stands, which takes a third of the time on a large file.
 */
export function rowReader(
  schema: z.ZodType,
): (row: Cells) => { record: Record<string, unknown> } | { column: string; reason: RejectReason } {
  const refused = ({ issues: [issue] }: z.ZodError, column = String(issue?.path[0] ?? '')) => ({
    column,
    reason: (issue?.message ?? 'required') as RejectReason,
  })
  const shape = (schema instanceof z.ZodPipe ? schema.in : schema) as z.ZodObject
  const keys = Object.keys(shape.shape).filter(column => isKey.test(column))
  if (!(schema instanceof z.ZodObject))
    return row => {
      const long = tooLongKey(row, keys)
      if (long) return { column: long, reason: 'too_long' }
      const read = schema.safeParse(row)
      return read.success ? { record: { ...row, ...(read.data as object) } } : refused(read.error)
    }
  const types = Object.entries(schema.shape as Record<string, z.ZodType>)
  const required = types.flatMap(([column, type]) => (type === requiredText ? [column] : []))
  const typed = types.filter(([, type]) => type !== requiredText && type !== optionalText)
  return row => {
    for (const column of required) if (row[column] === null) return { column, reason: 'required' }
    const long = tooLongKey(row, keys)
    if (long) return { column: long, reason: 'too_long' }
    const record: Record<string, unknown> = row
    for (const [column, type] of typed) {
      const read = type.safeParse(row[column])
      if (!read.success) return refused(read.error, column)
      record[column] = read.data
    }
    return { record }
  }
}

/** How long cells are at most that need no closer look: long ones are not bad, but to be read by their schema. */
export function plainLengths(keys: readonly string[]) {
  const kept = keys.map(key => isKey.test(key))
  return {
    /** bytes of a cell, by column */
    most: Int32Array.from(kept, of => (of ? LONGEST_ID : LONGEST_CELL)),
    /** 1 for columns that are keys */
    isKey: Uint8Array.from(kept, Number),
    /** bytes of all keys of a row together */
    mostOfKeys: MOST_KEY_BYTES,
  }
}
