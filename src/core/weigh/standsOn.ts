import { leadingLeaf } from '../evidence/place'
import { partsOf } from '../intake/claimUnits'
import { type Day, formatDay, inPeriod, type Period, zoneClock } from '../shared/days'
import { billedUntil } from './billed'
import type { Evidence } from './evidence'
import { inScope, type Scope } from './scope'

/** Longer stretches that figures of a period take a part of, and days of which no report says the spend. */
export interface StandsOn {
  /** networks whose reports give one sum for several days, laid evenly over them: how many days at most */
  laid: { network: string; days: number }[]
  /** such stretches that the period cuts, with the days of them that lie within it */
  cut: { network: string; from: string; to: string; counted: number }[]
  /** days on which a network's ads had clicks, conversions or orders, and no report covers: their spend is missing */
  uncovered: { network: string; from: string; to: string; days: number; orders: number }[]
  /** days before the first or after the last conversion that a network reports, though orders of its ads fall on them */
  unclaimed: { network: string; from: string; to: string; orders: number }[]
  /** results of the period that browsers alone reported; null where the shop, or a partner, confirms all */
  byBrowsers: { results: number; of: number } | null
  /** orders that browsers reported and the shop did not send: they count nowhere */
  unconfirmed: number
  /** currencies whose last known rate stands for days after it that are in the period */
  rates: { currency: string; after: string }[]
}

/** What figures of some periods of a part of the account stand on. */
export function standsOn(evidence: Evidence, scope: Scope, ...periods: Period[]): StandsOn {
  const { stretches, assumedRates } = evidence.data
  const touched = stretches.filter(
    ({ network, from, to }) =>
      (!scope.network || scope.network === network) &&
      periods.some(period => from <= period.to && to >= period.from),
  )
  const longest = new Map<string, number>()
  for (const { network, from, to } of touched)
    longest.set(network, Math.max(longest.get(network) ?? 0, to - from + 1))
  const within = (from: Day, to: Day) =>
    Array.from({ length: to - from + 1 }, (_, i) => from + i).filter(day =>
      periods.some(period => inPeriod(day, period)),
    ).length
  return {
    laid: [...longest].map(([network, days]) => ({ network, days })),
    cut: touched.flatMap(({ network, from, to }) => {
      const counted = within(from, to)
      return counted <= to - from ? [{ network, from: formatDay(from), to: formatDay(to), counted }] : []
    }),
    uncovered: uncoveredDays(evidence, scope, periods),
    unclaimed: unclaimedDays(evidence, scope, periods),
    ...byWhom(evidence, scope, periods),
    rates: assumedRates
      .filter(({ after }) => periods.some(period => period.to > after))
      .map(({ currency, after }) => ({ currency, after: formatDay(after) })),
  }
}

/** What of a period's results browsers alone reported. */
function byWhom(
  { data, placements }: Evidence,
  scope: Scope,
  periods: readonly Period[],
): Pick<StandsOn, 'byBrowsers' | 'unconfirmed'> {
  const isIn = (day: Day) => periods.some(period => inPeriod(day, period))
  const found = { results: 0, of: 0 }
  data.orders.forEach((order, o) => {
    if (!order.counts || !isIn(order.day)) return
    if (!inScope(data.tree.leaves[leadingLeaf(placements[o]!)], scope)) return
    found.of += 1
    if (order.told) found.results += 1
  })
  const localTime = zoneClock(data.settings.time_zone)
  return {
    byBrowsers: found.results > 0 ? found : null,
    // Nobody knows of which part of the account an order would be that is none.
    unconfirmed: scope.network ? 0 : data.unconfirmed.filter(({ at }) => isIn(localTime(at).day)).length,
  }
}

/** Days without a line of a network's reports, although its ads were clicked or credited on them. */
function uncoveredDays(
  { data, placements }: Evidence,
  scope: Scope,
  periods: readonly Period[],
): StandsOn['uncovered'] {
  const { tree, delivery, claims, orders } = data
  const until = billedUntil(data)
  const first = tree.networks.map(() => Number.POSITIVE_INFINITY)
  const covered = tree.networks.map(() => new Set<Day>())
  for (const { leaf, day } of delivery) {
    const n = tree.networkOf[leaf]!
    covered[n]!.add(day)
    first[n] = Math.min(first[n]!, day)
  }
  /** orders by day of what no report covers */
  const missing = tree.networks.map(() => new Map<Day, number>())
  const see = (leaf: number, day: Day, count: number) => {
    const n = tree.networkOf[leaf]
    // A network of which no report was ever imported is another matter, and so are days that are still to be billed.
    if (n === undefined || covered[n]!.size === 0 || covered[n]!.has(day) || day > (until[n] ?? -1)) return
    if ((scope.network && tree.networks[n] !== scope.network) || !periods.some(p => inPeriod(day, p))) return
    missing[n]!.set(day, (missing[n]!.get(day) ?? 0) + count)
  }
  orders.forEach((order, o) => {
    const leaf = leadingLeaf(placements[o]!)
    if (order.counts && leaf >= 0) see(leaf, order.day, 1)
  })
  for (const claim of claims) for (const { leaf } of partsOf(claim)) see(leaf, claim.day, 0)
  return missing.flatMap((byDay, n) => {
    // Between two days that a report covers the network may just have paused, and an order came of an earlier click.
    const gaps = [...byDay].filter(([day]) => day < first[n]! || isWide(covered[n]!, day))
    if (gaps.length === 0) return []
    const days = gaps.map(([day]) => day)
    return [
      {
        network: tree.networks[n]!,
        from: formatDay(Math.min(...days)),
        to: formatDay(Math.max(...days)),
        days: days.length,
        orders: gaps.reduce((sum, [, count]) => sum + count, 0),
      },
    ]
  })
}

/** So many orders of a network are hardly all missed by it: its conversions of these days were not reported. */
const MISSED = 10

/** Days on which a network that reports conversions reports none, at the beginning or end of what it reports. */
function unclaimedDays(
  { data, placements }: Evidence,
  scope: Scope,
  periods: readonly Period[],
): StandsOn['unclaimed'] {
  const { tree, claims, orders, delivery } = data
  const claimed = tree.networks.map((): Day[] => [])
  for (const claim of claims) claimed[claim.network]!.push(claim.day)
  const covered = tree.networks.map(() => new Set<Day>())
  for (const { leaf, day } of delivery) covered[tree.networkOf[leaf]!]!.add(day)
  const ordered = tree.networks.map((): Day[] => [])
  orders.forEach((order, o) => {
    const n = tree.networkOf[leadingLeaf(placements[o]!)]
    if (order.counts && n !== undefined && covered[n]!.has(order.day)) ordered[n]!.push(order.day)
  })
  return tree.networks.flatMap((network, n) => {
    if (claimed[n]!.length === 0 || (scope.network && scope.network !== network)) return []
    const [first, last] = [least(claimed[n]!), greatest(claimed[n]!)]
    return [ordered[n]!.filter(day => day < first), ordered[n]!.filter(day => day > last)].flatMap(
      outside => {
        const days = outside.filter(day => periods.some(period => inPeriod(day, period)))
        return outside.length < MISSED || days.length === 0
          ? []
          : [{ network, from: formatDay(least(days)), to: formatDay(greatest(days)), orders: days.length }]
      },
    )
  })
}
const least = (days: readonly Day[]) => days.reduce((a, b) => Math.min(a, b))
const greatest = (days: readonly Day[]) => days.reduce((a, b) => Math.max(a, b))

/** Orders come for some days after the last click of a network that paused. */
const AFTER_A_PAUSE = 3
const isWide = (covered: ReadonlySet<Day>, day: Day): boolean =>
  !Array.from({ length: AFTER_A_PAUSE }, (_, i) => day - 1 - i).some(before => covered.has(before))
