import { type Settings, type SettingsChange, settingsSchema } from '@/core/intake/settings'
import { settingsIn } from '@/core/intake/settingsCurrency'
import { type Day, formatDay, zoneClock } from '@/core/shared/days'
import { currencyExponent, minor } from '@/core/shared/money'
import { converter } from '@/core/shared/rates'
import type { ResultDefinition } from '@/core/signals/result'
import type { Executor } from '@/data/connect'
import { heldCurrencies } from '@/data/currencies'
import { loadRates } from '@/data/loadRecords'
import { listDefinitions, saveDefinition } from '@/data/signals'
import { saveSettings, type Workspace } from '@/data/workspace'

/** Whether a result says amounts of its own, which are in its own currency. */
const hasAmounts = ({ value, minimum, fee, target }: ResultDefinition) =>
  value.by !== 'event' || Boolean(minimum || fee || target)

/**
 * Counts everything in another currency, in one transaction of the caller's. Targets and fees are brought into it by the
 * latest rate; results that say no amounts of their own are counted in it, those that do keep theirs.
 *
 * @returns why it cannot be, in words: amounts are held that have no rate into it; null when it is done
 */
export async function changeCurrency(
  database: Executor,
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
  const definitions = (await listDefinitions(database, id)).filter(d => d.currency !== code)
  const last = rateDay(held, settings.time_zone)
  const kept = definitions.find(d => hasAmounts(d) && convert(minor(0), d.currency, code, last) === null)
  if (kept)
    return `“${kept.name}” is worth an amount in ${kept.currency}, which has no rate into ${code}. Say under Results what it is worth in ${code} first.`
  const changed = settingsIn(settings, code, amount => convert(amount, settings.currency, code, last))
  if (!changed)
    return `Fees and targets are in ${settings.currency}, and there is no rate into ${code}. Enter the rate first; nothing was changed.`
  for (const definition of definitions.filter(d => !hasAmounts(d)))
    await saveDefinition(database, id, { ...definition, currency: code })
  await saveSettings(database, id, changed)
  return null
}

/** What settings would be with a change, amounts that it does not say in its currency; null where there is no rate. */
export async function settingsWith(
  database: Executor,
  { id, settings }: Workspace,
  change: SettingsChange,
): Promise<Settings | null> {
  const code = change.currency ?? settings.currency
  const convert = converter(await loadRates(database, id))
  const day = rateDay(await heldCurrencies(database, id, settings.time_zone), settings.time_zone)
  const before =
    code === settings.currency
      ? settings
      : settingsIn(settings, code, amount => convert(amount, settings.currency, code, day))
  const typed = Object.entries({ ...before, ...change }).filter(([, value]) => value !== null)
  const read = settingsSchema.safeParse(Object.fromEntries(typed))
  return before && read.success ? read.data : null
}

/** The day by whose rate what is settled is converted: the last of which anything is held, else today. */
export const rateDay = (held: readonly { day: Day }[], zone: string, now = Date.now()): Day =>
  held.at(-1)?.day ?? zoneClock(zone)(now).day
