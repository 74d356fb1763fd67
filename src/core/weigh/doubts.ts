import type { Day, Period } from '../shared/days'
import type { Evidence } from './evidence'
import type { JudgedRow } from './rows'

/** What a verdict rests on besides its ad: each may be why its figures look as they do. */
export const doubtKinds = [
  'lost_tracking',
  'lost_clicks',
  'learning',
  'not_reported',
  'one_large_order',
] as const
export type Doubt = (typeof doubtKinds)[number]

/** Of what a row brought, so much was seen by nobody, or the network sees so much less than before. */
const MUCH_UNSEEN = 0.35
const FALLEN = 0.8
/** One order that is so much of all that a row is worth. */
const LARGE = 0.4
const FEW = 2

/**
 * Whether the networks see much less of what they bring than in as many days before.
 *
 * @returns by the network's number
 */
export function fallenCaptures({ estimate, data }: Evidence, { from, to }: Period): boolean[] {
  const first = Math.min(...data.orders.map(order => order.day), from)
  return data.tree.networks.map((_, n) => {
    const earlier = { from: Math.max(first, from - (to - from + 1)), to: from - 1 }
    if (earlier.to < earlier.from) return false
    const [before, now] = [estimate.captureOn(n, earlier.from, earlier.to), estimate.captureOn(n, from, to)]
    return before > 0 && now < FALLEN * before
  })
}

/** What is known beside a row's own figures. */
export interface DoubtFacts {
  fallen: boolean
  /** whether clicks of it are billed that never arrive */
  lostClicks: boolean
  /** first day on which it spent, and how many days its network learns for */
  firstSpent: Day | null
  learningDays: number
  period: Period
  /** whether its network has not told yet of days of which others have */
  late: boolean
}

/** What a row's verdict rests on. */
export function doubtsOf(row: JudgedRow, facts: DoubtFacts): Doubt[] {
  const { sums, squares } = row
  const results = sums.estimatedTenths / 10
  const seen = (sums.provenCredit + sums.taggedCredit) / 1_000_000
  const found: Doubt[] = []
  const cut = row.verdict.kind === 'cut'
  if (facts.fallen || (results >= FEW && (results - Math.min(results, seen)) / results > MUCH_UNSEEN))
    found.push('lost_tracking')
  if (facts.lostClicks) found.push('lost_clicks')
  const { firstSpent, learningDays, period, late } = facts
  if (firstSpent !== null && learningDays > 0 && period.to - firstSpent < learningDays) found.push('learning')
  if (late) found.push('not_reported')
  if (!cut && results > FEW && sums.estimatedValue > 0 && squares / sums.estimatedValue ** 2 > LARGE)
    found.push('one_large_order')
  return found
}
