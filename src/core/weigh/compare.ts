import { leadingLeaf } from '../evidence/place'
import { type Day, inPeriod, type Period } from '../shared/days'
import { type ChangeDay, type ChangeLaw, changeDay, type DayCount } from './changeDay'
import type { Evidence } from './evidence'
import { ratio } from './figures'
import { activeLeaves, sumLeaves } from './leafSums'
import { totalRow } from './rows'
import { inScope, type Scope } from './scope'

/** The four factors of a claimed cost per result. */
export const comparedParts = ['attention', 'appeal', 'conversion', 'capture'] as const
export type ComparedPart = (typeof comparedParts)[number]

/** One period of a comparison; money in minor units, what cannot be told null. */
export interface ComparedSide {
  period: Period
  spend: number
  impressions: number
  clicks: number
  estimated: number
  claimed: number
  costPerClaim: number | null
  costPerResult: number | null
  /** claims for each true result */
  capture: number | null
  /** variance of the estimate */
  variance: number
}

export interface Comparison {
  first: ComparedSide
  second: ComparedSide
  /** change of the logarithm of the claimed cost per result; null where a side has none */
  logChange: number | null
  /** their logarithms sum to the whole; with an 80 % interval and their share of it */
  parts: {
    part: ComparedPart
    log: number | null
    low: number | null
    high: number | null
    share: number | null
  }[]
  /** change of the logarithm of what a result really cost, with an 80 % interval */
  real: { log: number | null; low: number | null; high: number | null }
  changeDays: ({ of: 'capture' | 'real_cost' } & ChangeDay)[]
}

const TENTH = 1.2816
/** A day is named where chance would give as strong a change less often than this. */
const SURE = 0.01

/**
 * What changed between two periods: claimed cost per result = price of attention (spend/impressions) × appeal
 * (impressions/clicks) × conversion (clicks/results) ÷ capture (claims/results), so that the logarithm of its
 * change is the sum of four. And the day on which capture or the real cost changed, over all days from the
 * first to the last of both.
 */
export function compare(evidence: Evidence, scope: Scope, first: Period, second: Period): Comparison {
  const [before, after] = [sideOf(evidence, scope, first), sideOf(evidence, scope, second)]
  const change = (over: keyof ComparedSide, under: keyof ComparedSide) => {
    const [from, to] = [before, after].map(side => ratio(side[over] as number, side[under] as number))
    return from && to ? Math.log(to / from) : null
  }
  const both = (of: (side: ComparedSide) => number) => of(before) + of(after)
  const byChance = (count: number) => 1 / Math.max(1, count)
  /** of the logarithm: what the estimate does not know, and what chance does to counts */
  const unknown = (side: ComparedSide) => side.variance / Math.max(1, side.estimated) ** 2
  const parts = {
    // What a network bills it has counted: only what people do is chance.
    attention: { log: change('spend', 'impressions'), variance: 0 },
    appeal: { log: change('impressions', 'clicks'), variance: both(side => byChance(side.clicks)) },
    conversion: {
      log: change('clicks', 'estimated'),
      variance: both(side => unknown(side) + byChance(side.estimated)),
    },
    capture: {
      log: change('estimated', 'claimed'),
      variance: both(side => unknown(side) + Math.max(0, 1 - (side.capture ?? 1)) * byChance(side.claimed)),
    },
  }
  const logChange = change('spend', 'claimed')
  const known = comparedParts.every(part => parts[part].log !== null)
  const realLog = change('spend', 'estimated')
  const days = { from: Math.min(first.from, second.from), to: Math.max(first.to, second.to) }
  return {
    first: before,
    second: after,
    logChange: known ? logChange : null,
    parts: comparedParts.map(part => ({
      part,
      ...ranged(known ? parts[part].log : null, parts[part].variance),
      share: known && logChange ? parts[part].log! / logChange : null,
    })),
    real: ranged(realLog, parts.conversion.variance + parts.appeal.variance),
    changeDays: changesIn(evidence, scope, days),
  }
}

const ranged = (log: number | null, variance: number) => {
  const reach = TENTH * Math.sqrt(variance)
  return { log, low: log === null ? null : log - reach, high: log === null ? null : log + reach }
}

function sideOf(evidence: Evidence, scope: Scope, period: Period): ComparedSide {
  const { leaves } = evidence.data.tree
  const leafSums = sumLeaves(evidence, period)
  const own = activeLeaves(leafSums.sums).filter(leaf => inScope(leaves[leaf], scope))
  const { sums, variance } = totalRow(evidence, own, leafSums)
  const estimated = sums.estimatedTenths / 10
  const { spend, impressions, clicks, claimed } = sums
  return {
    period,
    spend,
    impressions,
    clicks,
    estimated,
    claimed,
    costPerClaim: ratio(spend, claimed),
    costPerResult: ratio(spend, estimated),
    capture: ratio(claimed, estimated),
    variance,
  }
}

/** The days on which capture and the real cost changed, where they did. */
function changesIn(evidence: Evidence, scope: Scope, days: Period): Comparison['changeDays'] {
  const { data } = evidence
  const meant = (leaf: number) => inScope(data.tree.leaves[leaf], scope)
  const length = days.to - days.from + 1
  const column = () => new Float64Array(length)
  const [spend, estimated, claimed] = [column(), column(), column()]
  const add = (to: Float64Array, day: Day, amount: number) => {
    if (inPeriod(day, days)) to[day - days.from]! += amount
  }
  for (const row of data.delivery) if (meant(row.leaf)) add(spend, row.day, row.spend)
  for (const { order, leaf, seen, unseen } of evidence.estimate.shares)
    if (meant(leaf)) add(estimated, data.orders[order]!.day, seen + unseen)
  for (const claim of data.claims) if (meant(claim.leaf)) add(claimed, claim.day, 1)
  const listed = new Set(data.claims.filter(claim => meant(claim.leaf)).map(claim => claim.at !== null))
  const found = (of: 'capture' | 'real_cost', law: ChangeLaw, came: Float64Array, among: Float64Array) => {
    const counts: DayCount[] = []
    among.forEach((amount, i) => {
      if (amount > 0) counts.push({ day: days.from + i, came: came[i]!, of: amount })
    })
    const change = changeDay(counts, law)
    return change && change.probability < SURE ? [{ of, ...change }] : []
  }
  const { came, of } = trackedAndClaimed(evidence, meant, days)
  return [
    // Of claims in a list it is known which tracked orders they are; sums stand against what is estimated.
    ...(listed.has(true) && !listed.has(false)
      ? found('capture', 'share', came, of)
      : found('capture', 'rate', claimed, estimated)),
    ...found('real_cost', 'rate', estimated, spend),
  ]
}

/** By day: tracked orders of a part of the account, and how many of them their network claims. */
function trackedAndClaimed(
  { data, placements, estimate }: Evidence,
  meant: (leaf: number) => boolean,
  days: Period,
): { came: Float64Array; of: Float64Array } {
  const [came, of] = [0, 0].map(() => new Float64Array(days.to - days.from + 1)) as [
    Float64Array,
    Float64Array,
  ]
  data.orders.forEach((order, o) => {
    const leaf = leadingLeaf(placements[o]!)
    if (!order.counts || leaf < 0 || !meant(leaf) || !inPeriod(order.day, days)) return
    of[order.day - days.from]! += 1
    came[order.day - days.from]! += estimate.claimedPart[o]!
  })
  return { came, of }
}
