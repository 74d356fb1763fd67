import * as z from 'zod'
import { decisionSchema } from '../intake/decisions'
import { settingsSchema } from '../intake/settings'
import { currencyExponent, formatAmount, type Minor, minor } from '../shared/money'

const units = z.int().min(0).max(1e12)
const { shape } = settingsSchema
const ownRule = {
  click_window_days: shape.click_window_days.unwrap(),
  view_window_days: shape.view_window_days.unwrap(),
  credit: shape.credit.unwrap(),
  margin: shape.margin.unwrap(),
}

/** What one result is worth; amounts in minor units of the result's currency. */
export const valueRuleSchema = z.discriminatedUnion('by', [
  z.object({
    by: z.literal('fixed'),
    amount: units,
    /** where it was measured by what they later bought, within so many days: an 80 % interval */
    measured: z.object({ low: units, high: units, days: z.int().positive() }).optional(),
  }),
  /** what the event or order says */
  z.object({ by: z.literal('event') }),
  z.object({ by: z.literal('less_fee'), amount: units, fee: units }),
  /** price × average periods that a customer stays, the periods in hundredths */
  z.object({ by: z.literal('lifetime'), price: units, periods: z.int().min(1).max(100_000) }),
])
export type ValueRule = z.infer<typeof valueRuleSchema>

export const resultKinds = [
  'order',
  'subscription',
  'lead',
  'sign_up',
  'call',
  'download',
  'visit',
  'other',
] as const

/** A business outcome that counts: the business's own definition. */
export const resultSchema = z.object({
  id: z.string().regex(/^[a-z0-9][a-z0-9_-]{0,39}$/, 'lower case letters, digits, - and _'),
  name: z.string().min(1).max(80),
  kind: z.enum(resultKinds),
  currency: z.string().refine(c => currencyExponent(c) !== null, 'no such currency'),
  value: valueRuleSchema,
  /** one that is worth less counts for nothing */
  minimum: units.optional(),
  count: z.enum(['once', 'every']),
  /** its own rules; the workspace's hold where they are missing */
  click_window_days: ownRule.click_window_days.optional(),
  view_window_days: ownRule.view_window_days.optional(),
  credit: ownRule.credit.optional(),
  margin: ownRule.margin.optional(),
  /** what every one of it costs besides, whatever it is worth */
  fee: units.optional(),
  /** what one may cost in place of what it leaves */
  target: units.optional(),
  /** the networks, and campaigns as `network/ID`, that it is for; none is all */
  networks: z.array(z.string()).default([]),
  campaigns: z.array(z.string()).default([]),
  archived: z.boolean().default(false),
})
export type ResultDefinition = z.infer<typeof resultSchema>

/** `settings.json` of a folder: how it counts, with its results beside it and what networks call them. */
export const folderSettingsSchema = settingsSchema.extend({
  results: z.array(resultSchema.extend({ slots: z.record(z.string(), z.string()).default({}) })).optional(),
  /** what was settled by hand */
  decisions: z.array(decisionSchema).optional(),
})
export type FolderSettings = z.infer<typeof folderSettingsSchema>

/** One time that a result may have come about. */
export interface Occurrence {
  id: string
  /** epoch ms */
  at: number
  /** our click ID */
  click: string | null
  visitor: string | null
  transaction: string | null
  /** minor units of the result's currency; null where nothing said a value */
  value: Minor | null
}

/** Why an occurrence does not count. */
export type LeftOut =
  | 'same_transaction'
  | 'once_per_click'
  | 'below_minimum'
  | 'no_value'
  | 'not_for_it'
  | 'does_not_count'
  /** a browser told of it, and the shop, which tells of such results, did not */
  | 'unconfirmed'
  /** of all results: it stands in the worth of the lead that it came of */
  | 'in_its_lead'

/** The ad click that brought an occurrence, as far as a definition asks. */
export interface BringingClick {
  network: string
  campaign: string | null
  /** epoch ms */
  at: number
}

/** Whether a result is for what came by a click: one that names networks or campaigns is for theirs alone. */
export const isFor = (
  { networks, campaigns }: Pick<ResultDefinition, 'networks' | 'campaigns'>,
  click: BringingClick | null,
): boolean =>
  (networks.length === 0 && campaigns.length === 0) ||
  (click !== null &&
    (networks.includes(click.network) || campaigns.includes(`${click.network}/${click.campaign}`)))

/** How far the worth of all results of a kind may be off together: variance of its logarithm, where it was measured. */
export function worthDoubt(rule: ValueRule): number {
  if (rule.by !== 'fixed' || !rule.measured || rule.amount <= 0) return 0
  const { low, high } = rule.measured
  const spread = Math.log(Math.max(high, 1) / Math.max(low, rule.amount / 10, 1)) / (2 * 1.2816)
  return spread * spread
}

/** Within how many days what one later buys is in its worth, where that was measured; null where it was not. */
export const measuredDays = (rule: ValueRule): number | null =>
  (rule.by === 'fixed' && rule.measured?.days) || null

/** What one occurrence is worth by a rule; null where the rule needs a value and nothing said one. */
export function worthOf(rule: ValueRule, value: Minor | null): Minor | null {
  switch (rule.by) {
    case 'fixed':
      return minor(rule.amount)
    case 'event':
      return value
    case 'less_fee':
      return minor(Math.max(0, rule.amount - rule.fee))
    case 'lifetime':
      return minor(Math.round((rule.price * rule.periods) / 100))
  }
}

/** What one result is worth where neither event nor order says it, as a decimal; empty where that is unknown. */
export function usualWorth({ value, currency }: Pick<ResultDefinition, 'value' | 'currency'>) {
  const worth = worthOf(value, null)
  return worth === null ? { value: '', currency: '' } : { value: formatAmount(worth, currency), currency }
}

/**
 * Counts a result's occurrences: the same transaction counts once under either rule;
 * `once` counts one for each click, or for each visitor where there is no click. Which of several counts
 * does not depend on the order in which they are given: it is the earliest.
 *
 * @returns of each occurrence its worth, or why it is left out
 */
export function countResults(
  definition: Pick<ResultDefinition, 'value' | 'minimum' | 'count'>,
  occurrences: readonly Occurrence[],
): Map<string, Minor | LeftOut> {
  const outcome = new Map<string, Minor | LeftOut>()
  const transactions = new Set<string>()
  const comers = new Set<string>()
  const inTime = [...occurrences].sort((a, b) => a.at - b.at || (a.id < b.id ? -1 : 1))
  for (const one of inTime) {
    if (outcome.has(one.id)) continue
    outcome.set(one.id, judgeOne(one))
  }
  return outcome

  function judgeOne({ click, visitor, transaction, value }: Occurrence): Minor | LeftOut {
    if (transaction !== null && transactions.has(transaction)) return 'same_transaction'
    const comer = click !== null ? `c ${click}` : visitor !== null ? `v ${visitor}` : null
    if (definition.count === 'once' && comer !== null && comers.has(comer)) return 'once_per_click'
    const worth = worthOf(definition.value, value)
    if (worth === null) return 'no_value'
    if (worth < (definition.minimum ?? 0)) return 'below_minimum'
    if (transaction !== null) transactions.add(transaction)
    if (comer !== null) comers.add(comer)
    return worth
  }
}
