import type { ViewName, Views } from './views'

export type { ViewName, Views }

/** What an order came by needs no estimate: whoever asks for it does not wait behind one. */
export const withoutEstimate: readonly ViewName[] = [
  'order',
  'orderEvidence',
  'unknownSources',
  'provenCredits',
  'parameterArrivals',
]
