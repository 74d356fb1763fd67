import * as z from 'zod'
import { currencyExponent, type Minor, parseAmount } from '../shared/money'
import { readParameters } from '../shared/text'
import { LONGEST_ID } from './fields'

/** What a postback can say; each stands in a parameter that the partner names in its own way. */
export const postbackFields = ['click', 'deal', 'amount', 'currency', 'status'] as const
export type PostbackField = (typeof postbackFields)[number]
export const saleStatuses = ['approved', 'pending', 'reversed'] as const
export type SaleStatus = (typeof saleStatuses)[number]

/** How one partner writes its postbacks: parameters, the macros that fill them, and its words for a status. */
export const partnerSchema = z.object({
  id: z.string().regex(/^[a-z0-9][a-z0-9_-]*$/, 'lower case letters, digits, - and _'),
  name: z.string().min(1).max(100),
  /** the result that a sale counts as */
  result: z.string().min(1).max(60).default('order'),
  /** the currency of amounts that name none */
  currency: z.string().refine(c => currencyExponent(c) !== null, 'no such currency'),
  /** the parameter of the offer link by which the partner takes our click ID */
  click_parameter: z.string().min(1).max(60),
  parameters: z.partialRecord(z.enum(postbackFields), z.string().min(1).max(60)),
  macros: z.partialRecord(z.enum(postbackFields), z.string().min(1).max(60)).default({}),
  /** parameters of sub-IDs, each with the macro that fills it */
  sub_ids: z.record(z.string().min(1).max(60), z.string().max(60)).default({}),
  /** the partner's words for each status, lower case; a sale without a status is approved */
  statuses: z.partialRecord(z.enum(saleStatuses), z.array(z.string())).default({}),
})
export type Partner = z.infer<typeof partnerSchema>

export interface PartnerSale {
  deal: string
  click: string | null
  amount: Minor | null
  currency: string
  status: SaleStatus
  subIds: Record<string, string>
  /** parameters that the partner's sheet does not know */
  others: Record<string, string>
}
export type PostbackProblem = 'no_deal' | 'too_long' | 'not_an_amount' | 'not_a_currency' | 'unknown_status'

/**
 * Reads one postback by its partner's sheet.
 *
 * @param query the query or form body, still encoded
 */
export function readPostback(
  query: string,
  partner: Partner,
): { sale: PartnerSale } | { problem: PostbackProblem; at: string; value: string } {
  const given = readParameters(query)
  const named = (field: PostbackField) => {
    const parameter = partner.parameters[field]
    return (parameter && given.get(parameter)?.trim()) || null
  }
  const refuse = (problem: PostbackProblem, field: PostbackField) => ({
    problem,
    at: partner.parameters[field] ?? field,
    value: named(field) ?? '',
  })
  const deal = named('deal')
  if (!deal) return refuse('no_deal', 'deal')
  if (deal.length > LONGEST_ID) return refuse('too_long', 'deal')
  if ((named('click')?.length ?? 0) > LONGEST_ID) return refuse('too_long', 'click')
  const currency = (named('currency') ?? partner.currency).toUpperCase()
  if (currencyExponent(currency) === null) return refuse('not_a_currency', 'currency')
  const amountText = named('amount')
  const amount = amountText === null ? null : parseAmount(amountText.replace(',', '.'), currency)
  if (amountText !== null && (amount === null || amount < 0)) return refuse('not_an_amount', 'amount')
  const word = named('status')?.toLowerCase()
  const status =
    word === undefined
      ? 'approved'
      : saleStatuses.find(s => s === word || partner.statuses[s]?.includes(word))
  if (!status) return refuse('unknown_status', 'status')
  const known = new Set([...Object.values(partner.parameters), ...Object.keys(partner.sub_ids)])
  const pick = (keep: (key: string) => boolean) =>
    Object.fromEntries([...given].filter(([key, value]) => value !== '' && keep(key)))
  return {
    sale: {
      deal,
      click: named('click'),
      amount,
      currency,
      status,
      subIds: pick(key => key in partner.sub_ids),
      others: pick(key => !known.has(key)),
    },
  }
}

/**
 * The address to paste at the partner: each parameter filled by the partner's own macro.
 *
 * @param base `https://…/p/CODE`
 */
export function postbackAddress(base: string, partner: Partner, secret: [key: string, value: string] | null) {
  const named = postbackFields.flatMap((f): [string, string][] => {
    const parameter = partner.parameters[f]
    return parameter ? [[parameter, partner.macros[f] ?? '']] : []
  })
  // Macros stand as the partner writes them: encoded, it would not know them.
  const filled = [...named, ...Object.entries(partner.sub_ids)].map(
    ([parameter, macro]) => `${encodeURIComponent(parameter)}=${macro}`,
  )
  const last = secret ? [secret.map(encodeURIComponent).join('=')] : []
  return `${base}?${[...filled, ...last].join('&')}`
}
