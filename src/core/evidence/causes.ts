/** Why an order or a claim has nothing on the other side, or is not worth the same there. */
interface Cause {
  /** whose the line is: an order's without a claim, a claim's without an order, or a pair's */
  side: 'order' | 'claim' | 'pair'
  label: string
  /** a heading of few letters */
  short: string
  means: string
  /** what to do about it */
  todo: string
}

/** Every cause of the gap. The order is the precedence within a side. */
export const causes = {
  not_seen: {
    side: 'order',
    label: 'Not seen by the network',
    short: 'not seen',
    means: 'We hold an ad click in the network’s window, but it claims nothing.',
    todo: 'Shoppers who opted out, or a tag that is silent. Check the network’s tag on the thank-you page.',
  },
  past_window: {
    side: 'order',
    label: 'Past the window',
    short: 'past window',
    means: 'The only ad click is older than the window.',
    todo: 'Lengthen the click window if your buyers take longer to decide.',
  },
  no_ad_evidence: {
    side: 'order',
    label: 'No sign of an ad',
    short: 'no sign',
    means: 'Nothing ties the order to an ad click.',
    todo: 'Direct and organic buyers, or clicks that lost their parameters. Check the findings under Links.',
  },
  repeat: {
    side: 'claim',
    label: 'Counted again',
    short: 'again',
    means: 'The same network reports the same order once more.',
    todo: 'A reloaded thank-you page or a tag that fires twice. Send the order ID with the conversion.',
  },
  shared: {
    side: 'claim',
    label: 'Claimed by two networks',
    short: 'two networks',
    means: 'Another network’s claim already stands for the order.',
    todo: 'Nothing to mend: the order is counted once, where our evidence puts it.',
  },
  view_only: {
    side: 'claim',
    label: 'By view alone',
    short: 'by view',
    means: 'The shopper saw the ad but did not click it.',
    todo: 'Counted only where your view window is as long as the network’s: set it under Rules.',
  },
  does_not_count: {
    side: 'claim',
    label: 'Order does not count',
    short: 'not counting',
    means: 'The order was cancelled, refunded or a test.',
    todo: 'Nothing to mend; networks are rarely told of refunds.',
  },
  other_day: {
    side: 'claim',
    label: 'Other day',
    short: 'other day',
    means: 'The order lies outside the chosen period.',
    todo: 'Widen the period, or mind that the network dates by click or in another zone.',
  },
  no_such_order: {
    side: 'claim',
    label: 'No such order',
    short: 'no order',
    means: 'The shop has no order that fits.',
    todo: 'Test conversions, another site with the same tag, or an order list that is not complete.',
  },
  in_part: {
    side: 'claim',
    label: 'Credited in part',
    short: 'in part',
    means: 'What is left of a day on which the network credits conversions to its ads in parts.',
    todo: 'Nothing to mend: it is less than one conversion a day.',
  },
  value_differs: {
    side: 'pair',
    label: 'Value differs',
    short: 'value differs',
    means: 'Order and claim match, their amounts do not.',
    todo: 'Partial refunds, tax or shipping counted on one side only.',
  },
} as const satisfies Record<string, Cause>

type Causes = typeof causes
type CauseOf<Side extends Cause['side']> = {
  [K in keyof Causes]: Causes[K]['side'] extends Side ? K : never
}[keyof Causes]

export type GapCause = keyof Causes
/** Why a claim stands against no order of its own. */
export type ClaimCause = CauseOf<'claim'>
/** Why an order stands against no claim. */
export type OrderCause = CauseOf<'order'>

export const allCauses = Object.keys(causes) as GapCause[]
const ofSide = <Side extends Cause['side']>(side: Side) =>
  allCauses.filter((cause): cause is CauseOf<Side> => causes[cause].side === side)
export const orderCauses: readonly OrderCause[] = ofSide('order')
export const claimCauses: readonly ClaimCause[] = ofSide('claim')
