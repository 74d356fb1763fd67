import * as z from 'zod'
import type { Day } from '../shared/days'
import { NOTHING } from '../shared/money'
import {
  count,
  currency,
  day,
  instant,
  optionalCount,
  optionalCurrency,
  optionalDay,
  optionalDecimal,
  optionalParts,
  optionalText,
  type RejectReason,
  readAmounts,
  requiredParts,
  requiredText,
} from './fields'

/** The last day of a longer stretch that a row sums; none before its first. */
const lastDay = (row: { date: number; date_to: number | null }, ctx: z.RefinementCtx): boolean => {
  if (row.date_to === null) return true
  const days = row.date_to - row.date + 1
  if (days >= 1 && days <= LONGEST_STRETCH) return true
  const message: RejectReason = days < 1 ? 'ends_before_it_begins' : 'too_long_a_stretch'
  ctx.addIssue({ code: 'custom', path: ['date_to'], message })
  return false
}
/** Further than these days no row sums: it would say nothing of a day. */
const LONGEST_STRETCH = 366

/** One line of delivery.csv: what a network spent and served, by ad and day, or a longer stretch. */
const deliveryRow = z
  .object({
    date: day,
    date_to: optionalDay,
    network: requiredText,
    campaign_id: requiredText,
    campaign_name: optionalText,
    ad_set_id: optionalText,
    ad_set_name: optionalText,
    ad_id: optionalText,
    ad_name: optionalText,
    currency,
    spend: requiredText,
    impressions: count,
    clicks: count,
    status: optionalText,
    daily_budget: optionalText,
    /** how many people it reached that day, where the network says so */
    reach: optionalCount,
    keyword: optionalText,
    match_type: optionalText,
    placement: optionalText,
    source: optionalText,
    device: optionalText,
  })
  .transform((row, ctx) => {
    if (!lastDay(row, ctx)) return z.NEVER
    const { spend } = readAmounts(row, ['spend'], row.currency, ctx)
    return { ...row, spend: spend ?? NOTHING }
  })
/** `stretch` is that of which a row is one day's part (`writeStretch`). */
export type DeliveryRow = Laid<z.infer<typeof deliveryRow>>
type Laid<Row> = Omit<Row, 'date_to'> & { date_to?: Day | null; stretch?: string | null }

/** One line of clicks.csv: an ad click that we saw. */
const clickRow = z.object({
  click_id: requiredText,
  clicked_at: instant,
  network: requiredText,
  campaign_id: optionalText,
  ad_set_id: optionalText,
  ad_id: optionalText,
  visitor_id: optionalText,
  network_click_id: optionalText,
  landing_url: optionalText,
  device: optionalText,
  placement: optionalText,
  keyword: optionalText,
  match_type: optionalText,
  source: optionalText,
  country: optionalText,
})
export type ClickRow = z.infer<typeof clickRow>

export const orderStatuses = ['paid', 'refunded', 'partially_refunded', 'cancelled', 'test'] as const
export type OrderStatus = (typeof orderStatuses)[number]
const isStatus = (s: string): s is OrderStatus => orderStatuses.some(known => known === s)
/** Orders that count; the others are shown with why. */
export const countsAsOrder = (status: OrderStatus): boolean =>
  status === 'paid' || status === 'partially_refunded'

/** One line of orders.csv: what the shop booked. */
const orderRow = z
  .object({
    order_id: requiredText,
    ordered_at: instant,
    status: requiredText.transform((s, ctx): OrderStatus => {
      const status = s.toLowerCase()
      if (isStatus(status)) return status
      ctx.addIssue({ code: 'custom', message: 'unknown_status' satisfies RejectReason })
      return z.NEVER
    }),
    currency,
    total: requiredText,
    tax: optionalText,
    shipping: optionalText,
    refunded: optionalText,
    customer_id: optionalText,
    visitor_id: optionalText,
    click_id: optionalText,
    landing_url: optionalText,
    utm_source: optionalText,
    utm_medium: optionalText,
    utm_campaign: optionalText,
    utm_term: optionalText,
    utm_content: optionalText,
    result: optionalText.transform(r => r ?? 'order'),
    /** by which way it came, where the shop says it; `web` is by the site */
    channel: optionalText.transform(c => c?.toLowerCase() ?? null),
    /** what kind of products it is of, where margins differ by it */
    product_group: optionalText,
  })
  .transform((row, ctx) => {
    const amounts = readAmounts(row, ['total', 'tax', 'shipping', 'refunded'], row.currency, ctx)
    return {
      ...row,
      total: amounts.total ?? NOTHING,
      tax: amounts.tax ?? NOTHING,
      shipping: amounts.shipping ?? NOTHING,
      refunded: amounts.refunded ?? NOTHING,
    }
  })
export type OrderRow = z.infer<typeof orderRow>

/**
 * One line of claims.csv: what a network reports of a day and an ad, summed; or of an ad set or a campaign, where it
 * reports no lower level. Conversions may be credited in parts.
 */
const claimSumRow = z
  .object({
    date: day,
    date_to: optionalDay,
    network: requiredText,
    campaign_id: optionalText,
    ad_set_id: optionalText,
    ad_id: optionalText,
    conversion: requiredText,
    click_through: requiredParts,
    view_through: optionalParts,
    value: optionalDecimal,
    currency: optionalCurrency,
  })
  .transform((row, ctx) => {
    if (!lastDay(row, ctx)) return z.NEVER
    const ad = row.ad_id ?? ''
    // An ad's ID says all; above it the campaign is part of the name.
    const campaign = ad ? '' : (row.campaign_id ?? '')
    if (!ad && !campaign) {
      ctx.addIssue({ code: 'custom', path: ['ad_id'], message: 'required' satisfies RejectReason })
      return z.NEVER
    }
    return { ...row, ad_id: ad, campaign_id: campaign, ad_set_id: ad ? '' : (row.ad_set_id ?? '') }
  })
export type ClaimSumRow = Laid<z.infer<typeof claimSumRow>>

export const claimKinds = ['click', 'view'] as const

/** One line of claim-rows.csv: one claim of a network. */
const claimRow = z.object({
  claimed_at: instant,
  date: optionalDay,
  network: requiredText,
  ad_id: requiredText,
  conversion: requiredText,
  kind: requiredText.transform((s, ctx) => {
    const kind = claimKinds.find(known => known === s.toLowerCase())
    if (kind) return kind
    ctx.addIssue({ code: 'custom', message: 'unknown_kind' satisfies RejectReason })
    return z.NEVER
  }),
  transaction_id: optionalText,
  click_id: optionalText,
  value: optionalDecimal,
  currency: optionalCurrency,
})
export type ClaimRow = z.infer<typeof claimRow>

/** One line of rates.csv. */
const rateRow = z.object({
  date: day,
  base: currency,
  quote: currency,
  rate: requiredText.transform((s, ctx) => {
    if (/^\d{1,12}(\.\d{1,15})?$/.test(s) && Number(s) > 0) return s
    ctx.addIssue({ code: 'custom', message: 'not_a_rate' satisfies RejectReason })
    return z.NEVER
  }),
})
export type RateRow = z.infer<typeof rateRow>

/** Whether a click could be sent there. */
const isWebAddress = (text: string): boolean => /^https?:\/\//i.test(text) && URL.canParse(text)

/** One line of ads.csv: an ad as the network knows it, and where it leads. */
const adRow = z.object({
  network: requiredText,
  campaign_id: requiredText,
  campaign_name: optionalText,
  ad_set_id: optionalText,
  ad_set_name: optionalText,
  ad_id: requiredText,
  ad_name: optionalText,
  landing_page: optionalText.transform((s, ctx) => {
    if (s === null || isWebAddress(s)) return s
    ctx.addIssue({ code: 'custom', message: 'not_a_web_address' satisfies RejectReason })
    return z.NEVER
  }),
  /** the address that stands at the network */
  address: optionalText,
})
export type AdRow = z.infer<typeof adRow>

/** The exchange files: the row schema of each (readers keep further columns beside what it gives), the columns it knows, those it cannot do without, and those by which a person tells two rows apart. */
export const exchangeFiles = {
  delivery: {
    schema: deliveryRow,
    columns: Object.keys(deliveryRow.in.shape),
    required: ['date', 'network', 'campaign_id', 'currency', 'spend'],
    identity: [
      ...['date', 'date_to', 'network', 'campaign_id', 'ad_set_id', 'ad_id'],
      ...['keyword', 'match_type', 'placement', 'source', 'device'],
    ],
  },
  clicks: {
    schema: clickRow,
    columns: Object.keys(clickRow.shape),
    required: ['click_id', 'clicked_at', 'network'],
    identity: ['click_id'],
  },
  orders: {
    schema: orderRow,
    columns: Object.keys(orderRow.in.shape),
    required: ['order_id', 'ordered_at', 'status', 'currency', 'total'],
    identity: ['order_id'],
  },
  claims: {
    schema: claimSumRow,
    columns: Object.keys(claimSumRow.in.shape),
    required: ['date', 'network', 'conversion', 'click_through'],
    identity: ['date', 'date_to', 'network', 'campaign_id', 'ad_set_id', 'ad_id', 'conversion'],
  },
  'claim-rows': {
    schema: claimRow,
    columns: Object.keys(claimRow.shape),
    required: ['claimed_at', 'network', 'ad_id', 'conversion', 'kind'],
    identity: ['network', 'ad_id', 'conversion', 'transaction_id'],
    /** without which the identity above is several rows' */
    known: 'transaction_id',
  },
  rates: {
    schema: rateRow,
    columns: Object.keys(rateRow.shape),
    required: ['date', 'base', 'quote', 'rate'],
    identity: ['date', 'base', 'quote'],
  },
  ads: {
    schema: adRow,
    columns: Object.keys(adRow.shape),
    required: ['network', 'campaign_id', 'ad_id'],
    identity: ['network', 'ad_id'],
  },
} as const

export type FileKind = keyof typeof exchangeFiles
export const fileKinds = Object.keys(exchangeFiles) as FileKind[]
/** Columns that the exchange files do not know, by their header. */
type WithAttributes<Row> = Row & { [attribute: string]: unknown }
export interface RecordOf {
  delivery: WithAttributes<DeliveryRow>
  clicks: WithAttributes<ClickRow>
  orders: WithAttributes<OrderRow>
  claims: WithAttributes<ClaimSumRow>
  'claim-rows': WithAttributes<ClaimRow>
  rates: WithAttributes<RateRow>
  ads: WithAttributes<AdRow>
}
