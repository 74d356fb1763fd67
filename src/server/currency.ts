import { formatDay } from '@/core/shared/days'
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
 * Counts everything in another currency. A target and fees are brought into it by the latest rate; results that say no
 * amounts of their own are counted in it, those that do keep theirs.
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
  const last = held.at(-1)?.day ?? 0
  const kept = definitions.find(d => hasAmounts(d) && convert(minor(0), d.currency, code, last) === null)
  if (kept)
    return `“${kept.name}” is worth an amount in ${kept.currency}, which has no rate into ${code}. Say under Results what it is worth in ${code} first.`
  for (const definition of definitions.filter(d => !hasAmounts(d)))
    await saveDefinition(database, id, { ...definition, currency: code })
  const { target_cost, fee, product_groups, campaign_rules, verdicts, currency, ...others } = settings
  const units = 10 ** (currencyExponent(currency) ?? 2)
  const converted = (amount: number) =>
    (convert(minor(Math.round(amount * units)), currency, code, last) ?? 0) / 10 ** digits
  const inOther = <Own extends { fee?: number | undefined; target_cost?: number | undefined }>({
    fee: besides,
    target_cost: own,
    ...others
  }: Own) => ({
    ...others,
    ...(besides !== undefined && { fee: converted(besides) }),
    ...(own !== undefined && { target_cost: converted(own) }),
  })
  const target = target_cost && converted(target_cost)
  await saveSettings(database, id, {
    ...others,
    currency: code,
    fee: fee && converted(fee),
    product_groups: product_groups.map(inOther),
    campaign_rules: campaign_rules.map(inOther),
    verdicts: {
      ...verdicts,
      rules: verdicts.rules.map(rule =>
        rule.when === 'little_spend' ? { ...rule, spend: converted(rule.spend) } : rule,
      ),
    },
    ...(target ? { target_cost: target } : {}),
  })
  return null
}
