import { formatDay } from '@/core/shared/days'
import { currencyExponent, minor } from '@/core/shared/money'
import { converter } from '@/core/shared/rates'
import type { Database } from '@/data/connect'
import { heldCurrencies } from '@/data/currencies'
import { loadRates } from '@/data/loadRecords'
import { saveSettings, type Workspace } from '@/data/workspace'

/**
 * Counts everything in another currency. A target is brought into it by the latest rate.
 *
 * @returns why it cannot be, in words: amounts are held that have no rate into it; null when it is done
 */
export async function changeCurrency(
  database: Database,
  { id, settings }: Workspace,
  code: string,
): Promise<string | null> {
  const digits = currencyExponent(code)
  if (digits === null) return `${code} is no currency: write its three letters, such as EUR.`
  const convert = converter(await loadRates(database, id))
  const held = await heldCurrencies(database, id, settings.time_zone)
  const without = held.filter(h => h.currency !== code && convert(minor(0), h.currency, code, h.day) === null)
  const [first] = without
  if (first)
    return `Amounts in ${[...new Set(without.map(h => h.currency))].join(' and ')} are held, and ${without.length === 1 ? 'one day has' : `${without.length} days have`} no rate into ${code}, the first ${formatDay(first.day)}. Take in rates.csv with them first.`
  const { target_cost, currency } = settings
  const units = 10 ** (currencyExponent(currency) ?? 2)
  const last = held.at(-1)?.day ?? 0
  const target =
    target_cost === undefined ? null : convert(minor(Math.round(target_cost * units)), currency, code, last)
  const { target_cost: _, ...others } = settings
  await saveSettings(database, id, {
    ...others,
    currency: code,
    ...(target === null ? {} : { target_cost: target / 10 ** digits }),
  })
  return null
}
