import type { ComparedPart } from '@/core/weigh/compare'

/** What each part of a claimed cost is, and where to look when it grew. */
export const partWords: Record<ComparedPart, { name: string; is: string; look: string; at: string }> = {
  attention: {
    name: 'Price of attention',
    is: 'spend for an impression',
    look: 'Bids, rivals and the season: which campaigns pay more for it?',
    at: '/weigh',
  },
  appeal: {
    name: 'Appeal',
    is: 'impressions for a click',
    look: 'Ads that tire: fewer of those who see them click.',
    at: '/weigh',
  },
  conversion: {
    name: 'Conversion',
    is: 'clicks for an order',
    look: 'Pages, offers and prices: at which step are more lost?',
    at: '/results/journey',
  },
  capture: {
    name: 'Tracking',
    is: 'orders for a claim',
    look: 'Consent, or a tag that is silent: which signal changed?',
    at: '/results',
  },
}
