import { leadingLeaf } from '../evidence/place'
import { CONVERSION, partsOf } from '../intake/claimUnits'
import { append } from '../shared/append'
import { type Day, inPeriod, type Period } from '../shared/days'
import { pathKey, readPath } from '../shared/path'
import { type ChangeDay, type ChangeLaw, changeDay, type DayCount } from './changeDay'
import type { Evidence } from './evidence'
import { ratio } from './figures'
import { type LeafSums, sumLeaves } from './leafSums'
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
  const { leaves } = evidence.data.tree
  const own = leaves.flatMap((leaf, i) => (inScope(leaf, scope) ? [i] : []))
  const of = sidesOf(evidence, first, second)
  const days = { from: Math.min(first.from, second.from), to: Math.max(first.to, second.to) }
  return { ...compared(...of(own)), changeDays: changesIn(evidence, scope, days) }
}

/** The same of each network and campaign of a part of the account of which anything is known, but for the days. */
export function compareEach(
  evidence: Evidence,
  scope: Scope,
  first: Period,
  second: Period,
): { network: string; campaign: string | null; of: Compared }[] {
  const groups = new Map<string, number[]>()
  evidence.data.tree.leaves.forEach((leaf, i) => {
    if (!inScope(leaf, scope)) return
    append(groups, pathKey(leaf.network), i)
    append(groups, pathKey(leaf.network, leaf.campaign), i)
  })
  const of = sidesOf(evidence, first, second)
  return [...groups].flatMap(([key, leaves]) => {
    const [network, campaign = null] = readPath(key) as [string, string?]
    const [before, after] = of(leaves)
    return isNothing(before) && isNothing(after) ? [] : [{ network, campaign, of: compared(before, after) }]
  })
}
const isNothing = ({ spend, impressions, clicks, estimated, claimed }: ComparedSide): boolean =>
  spend + impressions + clicks + estimated + claimed === 0

export type Compared = Omit<Comparison, 'changeDays'>

function compared(before: ComparedSide, after: ComparedSide): Compared {
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
  }
}

const ranged = (log: number | null, variance: number) => {
  const reach = TENTH * Math.sqrt(variance)
  return { log, low: log === null ? null : log - reach, high: log === null ? null : log + reach }
}

/** Makes both sides of some leaves. */
function sidesOf(evidence: Evidence, ...periods: [first: Period, second: Period]) {
  const [first, second] = periods.map(period => ({ period, leafSums: sumLeaves(evidence, period) }))
  return (leaves: readonly number[]): [before: ComparedSide, after: ComparedSide] => [
    sideOf(evidence, leaves, first!),
    sideOf(evidence, leaves, second!),
  ]
}

function sideOf(
  evidence: Evidence,
  leaves: readonly number[],
  { period, leafSums }: { period: Period; leafSums: LeafSums },
): ComparedSide {
  const { sums, variance } = totalRow(evidence, leaves, leafSums)
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

/** What a day comes to; estimated orders in parts, spend in minor units. */
export interface DayOfCosts {
  day: Day
  spend: number
  estimated: number
  claimed: number
}

/** Spend, estimated orders and claims of each day of a part of the account. */
export function costsByDay({ data, estimate }: Evidence, scope: Scope, days: Period): DayOfCosts[] {
  const meant = (leaf: number) => inScope(data.tree.leaves[leaf], scope)
  const list = Array.from(
    { length: days.to - days.from + 1 },
    (_, i): DayOfCosts => ({
      day: days.from + i,
      spend: 0,
      estimated: 0,
      claimed: 0,
    }),
  )
  const at = (day: Day) => (inPeriod(day, days) ? list[day - days.from] : undefined)
  const add = (leaf: number, day: Day, of: 'spend' | 'estimated' | 'claimed', amount: number) => {
    const own = meant(leaf) ? at(day) : undefined
    if (own) own[of] += amount
  }
  for (const row of data.delivery) add(row.leaf, row.day, 'spend', row.spend)
  for (const { order, leaf, seen, unseen } of estimate.shares)
    add(leaf, data.orders[order]!.day, 'estimated', seen + unseen)
  for (const claim of data.claims)
    for (const { leaf, thousandths } of partsOf(claim))
      add(leaf, claim.day, 'claimed', thousandths / CONVERSION)
  return list
}

/** The days on which capture and the real cost changed, where they did. */
export function changesIn(evidence: Evidence, scope: Scope, days: Period): Comparison['changeDays'] {
  const { data } = evidence
  const meant = (leaf: number) => inScope(data.tree.leaves[leaf], scope)
  const byDay = costsByDay(evidence, scope, days)
  const column = (of: 'spend' | 'estimated' | 'claimed') => Float64Array.from(byDay, one => one[of])
  const listed = new Set(data.claims.filter(claim => meant(claim.leaf)).map(claim => claim.at !== null))
  // Days of which a report gives one sum are no days: the stretch is compared as a whole.
  const begins = new Map<Day, Day>()
  for (const { network, from, to } of data.stretches)
    if (!scope.network || scope.network === network)
      for (let day = from; day <= to; day++) begins.set(day, Math.min(from, begins.get(day) ?? from))
  const beginOf = (day: Day) => Math.max(days.from, begins.get(day) ?? day)
  const found = (of: 'capture' | 'real_cost', law: ChangeLaw, came: Float64Array, among: Float64Array) => {
    const byBegin = new Map<Day, DayCount>()
    among.forEach((amount, i) => {
      const day = beginOf(days.from + i)
      const sum = byBegin.get(day) ?? { day, came: 0, of: 0 }
      byBegin.set(day, { day, came: sum.came + came[i]!, of: sum.of + amount })
    })
    const change = changeDay(
      [...byBegin.values()].filter(({ of }) => of > 0),
      law,
    )
    return change && change.probability < SURE ? [{ of, ...change }] : []
  }
  const { came, of } = trackedAndClaimed(evidence, meant, days)
  return [
    // Of claims in a list it is known which tracked orders they are; sums stand against what is estimated.
    ...(listed.has(true) && !listed.has(false)
      ? found('capture', 'share', came, of)
      : found('capture', 'rate', column('claimed'), column('estimated'))),
    ...found('real_cost', 'rate', column('estimated'), column('spend')),
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
