import type { ClaimCause, GapCause, OrderCause } from '@/core/evidence/gap'
import type { MatchedBy } from '@/core/evidence/match'
import type { Placement } from '@/core/evidence/place'
import type { Figure } from '@/core/weigh/evidenceOf'

/** The causes of the gap in plain words, and what to do about each. */
export const causeWords: Record<GapCause, { label: string; means: string; todo: string }> = {
  not_seen: {
    label: 'Not seen by the network',
    means: 'We hold an ad click in the network’s window, but it claims nothing.',
    todo: 'Shoppers who opted out, or a tag that is silent. Check the network’s tag on the thank-you page.',
  },
  past_window: {
    label: 'Past the window',
    means: 'The only ad click is older than the window.',
    todo: 'Lengthen the click window if your buyers take longer to decide.',
  },
  no_ad_evidence: {
    label: 'No sign of an ad',
    means: 'Nothing ties the order to an ad click.',
    todo: 'Direct and organic buyers, or clicks that lost their parameters. Check the findings under Links.',
  },
  repeat: {
    label: 'Counted again',
    means: 'The same network reports the same order once more.',
    todo: 'A reloaded thank-you page or a tag that fires twice. Send the order ID with the conversion.',
  },
  shared: {
    label: 'Claimed by two networks',
    means: 'Another network’s claim already stands for the order.',
    todo: 'Nothing to mend: the order is counted once, where our evidence puts it.',
  },
  view_only: {
    label: 'By view alone',
    means: 'The shopper saw the ad but did not click it.',
    todo: 'Counted only where your view window is as long as the network’s: set it under Rules.',
  },
  does_not_count: {
    label: 'Order does not count',
    means: 'The order was cancelled, refunded or a test.',
    todo: 'Nothing to mend; networks are rarely told of refunds.',
  },
  other_day: {
    label: 'Other day',
    means: 'The order lies outside the chosen period.',
    todo: 'Widen the period, or mind that the network dates by click or in another zone.',
  },
  no_such_order: {
    label: 'No such order',
    means: 'The shop has no order that fits.',
    todo: 'Test conversions, another site with the same tag, or an order list that is not complete.',
  },
  value_differs: {
    label: 'Value differs',
    means: 'Order and claim match, their amounts do not.',
    todo: 'Partial refunds, tax or shipping counted on one side only.',
  },
}

export const figureWords: Record<Figure, string> = {
  orders: 'Orders that count',
  claims: 'Claims by networks',
  matched: 'Orders that stand on both sides',
  proven: 'Proven orders',
  tagged: 'Tagged orders',
  estimated: 'Estimated orders',
  clicks: 'Clicks',
  spend: 'Spend',
  ...(Object.fromEntries(Object.entries(causeWords).map(([cause, words]) => [cause, words.label])) as Record<
    GapCause,
    string
  >),
}

export const placedByWords: Record<NonNullable<Placement['by']>, string> = {
  click_id: 'the order carries our click ID',
  visitor_id: 'the same visitor clicked the ad',
  customer: 'an earlier visit of this customer clicked the ad',
  network_click_id: 'the landing address carries the network’s click ID',
  parameters: 'the order carries the ad’s parameters',
}

export const matchedByWords: Record<MatchedBy, string> = {
  transaction: 'same order ID',
  click_id: 'same click ID',
  value_and_time: 'same value, near in time',
  day: 'a unit of the day’s sum',
}

export const fateWords: Record<'matched' | ClaimCause | OrderCause, string> = {
  matched: 'stands on both sides',
  ...(Object.fromEntries(
    Object.entries(causeWords).map(([cause, words]) => [cause, words.label.toLowerCase()]),
  ) as Record<ClaimCause | OrderCause, string>),
}
