import * as z from 'zod'
import { hasSettledAmounts } from '@/core/intake/settingsCurrency'
import { type Day, formatDay } from '@/core/shared/days'
import { currencyExponent, minor } from '@/core/shared/money'
import { converter } from '@/core/shared/rates'
import type { Database, Executor } from '@/data/connect'
import { heldCurrencies } from '@/data/currencies'
import { loadRates } from '@/data/loadRecords'
import type { Workspace } from '@/data/workspace'
import { writeCsv } from '@/formats/csv'
import { rateDay } from './currency'
import { importFile } from './import/importFile'

/** Days whose amounts in a currency have no rate into another. */
export interface MissingRates {
  base: string
  /** `YYYY-MM-DD`, in order */
  days: string[]
}

/** Days by currency, each once, in order. */
export function daysByCurrency(rows: readonly { currency: string; day: Day }[]): MissingRates[] {
  const days = new Map<string, Set<Day>>()
  for (const { currency, day } of rows) days.set(currency, (days.get(currency) ?? new Set()).add(day))
  return [...days]
    .map(([base, of]) => ({ base, days: [...of].sort((a, b) => a - b).map(formatDay) }))
    .sort((a, b) => (a.base < b.base ? -1 : 1))
}

/** The rates that are missing to count all that is held in a currency. */
export async function missingRates(
  database: Executor,
  { id, settings }: Workspace,
  code: string,
): Promise<MissingRates[]> {
  if (currencyExponent(code) === null) return []
  const convert = converter(await loadRates(database, id))
  const held = await heldCurrencies(database, id, settings.time_zone)
  // What is settled is converted as well, by the rate of one day.
  const settled = hasSettledAmounts(settings)
    ? [{ currency: settings.currency, day: rateDay(held, settings.time_zone) }]
    : []
  return daysByCurrency(
    [...held, ...settled].filter(
      ({ currency, day }) => currency !== code && convert(minor(0), currency, code, day) === null,
    ),
  )
}

const givenSchema = z.array(
  z.object({
    base: z.string().length(3),
    quote: z.string().length(3),
    day: z.iso.date(),
    rate: z.string().regex(/^\d{1,9}([.]\d{1,12})?$/, 'a rate is a number such as 0.8431'),
  }),
)

/** Keeps rates that somebody gave for some days. Gives what is wrong, or null. */
export async function giveRates(
  database: Database,
  workspace: Workspace,
  given: unknown,
): Promise<string | null> {
  const read = givenSchema.safeParse(given)
  if (!read.success) return z.prettifyError(read.error)
  const rows = read.data.map(({ day: date, ...rate }) => ({ date, ...rate }))
  const text = writeCsv(['date', 'base', 'quote', 'rate'], rows)
  const { rejected } = await importFile(database, workspace, 'rates', text)
  const [first] = rejected
  return first ? `${first.column} “${first.value ?? ''}” is no rate.` : null
}
