import { type ClaimCause, causes, type OrderCause } from '@/core/evidence/causes'
import type { MatchedBy } from '@/core/evidence/match'
import type { Placement } from '@/core/evidence/place'

export const placedByWords: Record<NonNullable<Placement['by']>, string> = {
  click_id: 'the order carries our click ID',
  visitor_id: 'the same visitor clicked the ad',
  customer: 'an earlier visit of this customer clicked the ad',
  network_click_id: 'the landing address carries the network’s click ID',
  parameters: 'the order carries the ad’s parameters',
}

export const matchedByWords: Record<MatchedBy, string> = {
  hand: 'settled by hand',
  transaction: 'same order ID',
  click_id: 'same click ID',
  value_and_time: 'same value, near in time',
  day: 'a unit of the day’s sum',
}

export const fateWords = (fate: 'matched' | ClaimCause | OrderCause): string =>
  fate === 'matched' ? 'stands on both sides' : causes[fate].label.toLowerCase()
