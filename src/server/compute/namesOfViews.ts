import type { ViewName, Views } from './views'

export type { ViewName, Views }

/** What an order came by needs no estimate: whoever asks for it does not wait behind one. */
export const withoutEstimate: readonly ViewName[] = [
  'order',
  'orderEvidence',
  'unknownSources',
  'provenCredits',
  'conversions',
]

/** What is read from the records alone. */
export const withoutEvidence: readonly ViewName[] = ['parameterArrivals']

/** What pages show, and wait for. */
export const viewsOfPages = [
  'weigh',
  'outcomes',
  'trend',
  'pages',
  'reconcile',
  'changed',
  'ownRules',
  'bench',
  'journey',
  'unknownSources',
  'provenCredits',
] as const satisfies readonly ViewName[]
export type ViewOfPage = (typeof viewsOfPages)[number]
