import type { Dataset } from '../intake/dataset'
import { PLACEMENTS } from '../links/savedLink'
import type { Day, Period } from '../shared/days'

/** A network that has told of no delivery for longer than this has stopped; until then its report is late. */
const LATEST_REPORT_DAYS = 7

/**
 * Up to which day each network has told what it spent; null for one that has told of none, or has stopped
 * delivering, and for placements of our own, whose cost is entered by hand and waits for no report. Results of
 * later days stand without their spend: they would make results look cheap.
 *
 * @returns by the network's number
 */
export function billedUntil({ delivery, tree }: Pick<Dataset, 'delivery' | 'tree'>): (Day | null)[] {
  const last = tree.networks.map((): Day | null => null)
  let latest = Number.NEGATIVE_INFINITY
  for (const { leaf, day } of delivery) {
    const n = tree.networkOf[leaf]!
    if (tree.networks[n] === PLACEMENTS) continue
    last[n] = Math.max(last[n] ?? day, day)
    latest = Math.max(latest, day)
  }
  return last.map(day => (day === null || day < latest - LATEST_REPORT_DAYS ? null : day))
}

/** The last day of which any network has told what it spent; null where none has. */
export const latestBilled = (until: readonly (Day | null)[]): Day | null =>
  until.reduce((latest, day) => (day !== null && (latest === null || day > latest) ? day : latest), null)

/** The days of a period of which the network of each leaf has told what it spent. */
export function billedPeriods(
  data: Pick<Dataset, 'delivery' | 'tree'>,
  period: Period,
): (leaf: number) => Period {
  const periods = billedUntil(data).map(day => ({
    from: period.from,
    to: Math.min(period.to, day ?? period.to),
  }))
  return leaf => periods[data.tree.networkOf[leaf]!] ?? period
}

/** How many days of a period each network has told what it spent on; at least one, by the network's number. */
export const billedDays = (data: Pick<Dataset, 'delivery' | 'tree'>, { from, to }: Period): number[] =>
  billedUntil(data).map(day => Math.max(1, Math.min(to, day ?? to) - from + 1))
