import * as z from 'zod'
import { nameOf } from '../intake/tree'
import type { Day, Period } from '../shared/days'
import { billedDays, billedUntil, latestBilled } from './billed'
import type { Evidence } from './evidence'
import { type Forecast, type ForecastOfDays, forecastOf, forecastOver, soonAfterClick } from './forecast'
import { judge } from './judge'
import type { JudgedRow } from './rows'
import { factorsOfAds, type PlannedAd, type PlanRules, planKey } from './whatIf'

const forecastSchema = z.object({
  spend: z.object({ before: z.number(), after: z.number() }),
  results: z.object({ before: z.number(), after: z.number() }),
  doubt: z.number(),
  leaves: z.object({ before: z.number(), after: z.number() }),
  within: z.array(z.number()),
})

/** One budget that somebody decided to change, with what is expected of it; money in minor units a day. */
export const moveSchema = z.object({
  network: z.string(),
  /** from the network down to the campaign, ad set or ad */
  path: z.array(z.string()).min(2).max(4),
  name: z.string(),
  /** what it is to spend, as a share of what it spent; 0 for cut */
  factor: z.number().min(0).max(100),
  forecast: forecastSchema,
})
export type Move = z.infer<typeof moveSchema>

/** Moves that were decided upon together. */
export const moveListSchema = z.object({
  id: z.string(),
  /** epoch ms, and the day in the workspace's zone; what they do begins with the day after */
  at: z.number(),
  day: z.string(),
  by: z.string(),
  why: z.string(),
  /** the result by which they were decided; the network alone that was looked at, or none */
  result: z.string(),
  network: z.string(),
  currency: z.string(),
  /** what is expected of all ads of the networks at which anything is moved, together */
  account: forecastSchema,
  moves: z.array(moveSchema).min(1).max(2000),
})
export type MoveList = z.infer<typeof moveListSchema>

/** A list of moves as it is kept. */
export interface KeptMoves {
  list: MoveList
  /** networks to which it was applied, each with when (ISO 8601) */
  applied: Record<string, string>
  /** epoch ms at which it was taken back; null while it holds */
  undoneAt: number | null
}

/** What a row is to a plan: the same on the server as where plans are made. */
export const plannedAd = ({ path, sums, rate, worth, left }: JudgedRow): PlannedAd => ({
  path,
  spend: sums.spend,
  tenths: sums.estimatedTenths,
  value: sums.estimatedValue,
  // The mean of a log-normal rate lies above its middle.
  expected: rate ? Math.exp(rate.log + rate.variance / 2) * sums.spend : 0,
  variance: rate?.variance ?? 0,
  worth: worth?.mean ?? null,
  left,
})

/**
 * Budgets that are planned as moves, each with its forecast, and that of all ads of their networks together.
 *
 * @param rows judged rows of single ads, of all or of one network
 * @param period that they were judged by
 */
export function movesOf(
  evidence: Evidence,
  rows: readonly JudgedRow[],
  period: Period,
  factors: ReadonlyMap<string, number>,
  { elasticity, cut }: PlanRules,
): { account: Forecast; moves: Move[] } {
  const ads = rows.map(plannedAd)
  const own = factorsOfAds(ads, factors, cut)
  const { networks } = evidence.data.tree
  const billed = billedDays(evidence.data, period)
  const days = ({ path }: PlannedAd) => billed[networks.indexOf(path[0] ?? '')] ?? period.to - period.from + 1
  const how = { days, elasticity, within: soonAfterClick(evidence) }
  const below = (path: readonly string[]) =>
    ads.flatMap((ad, i) => (path.every((part, at) => ad.path[at] === part) ? [i] : []))
  // Where money that is cut goes to others, each of these has another budget as well.
  const paths =
    cut === 'saved'
      ? [...factors.keys()].map((key): string[] => JSON.parse(key))
      : ads.flatMap((ad, i) => (own[i] === 1 ? [] : [[...ad.path]]))
  const touched = new Set(paths.map(path => path[0]))
  const concerned = ads.flatMap((ad, i) => (touched.has(ad.path[0]) ? [i] : []))
  return {
    account: forecastOf(
      concerned.map(i => ads[i]!),
      concerned.map(i => own[i]!),
      how,
    ),
    moves: paths.map(path => {
      const at = below(path)
      const [network = '', campaign = '', adSet = '', ad = ''] = path
      const level = ad ? 'ad' : adSet ? 'ad_set' : 'campaign'
      return {
        network,
        path,
        name: nameOf(evidence.data.tree, network, level, path.at(-1) ?? '') || campaign,
        factor: factors.get(planKey(path)) ?? own[at[0] ?? 0] ?? 1,
        forecast: forecastOf(
          at.map(i => ads[i]!),
          at.map(i => own[i]!),
          how,
        ),
      }
    }),
  }
}

/** What happened against what was foreseen, over the same days; money in minor units. */
export interface Outcome {
  /** whole days since the move of which spend is known; 0 while there is none */
  days: number
  foreseen: ForecastOfDays
  happened: { spend: number; results: number; low: number; high: number; leaves: number }
  /** whether what happened lies within what was foreseen */
  held: boolean
}

const noneOf = { spend: 0, results: 0, low: 0, high: 0, leaves: 0 }

/** Some rows together; their estimates err apart from each other. */
function sumsOf(rows: readonly JudgedRow[]): Outcome['happened'] {
  const sum = rows.reduce(
    (all, row) => ({
      spend: all.spend + row.sums.spend,
      results: all.results + row.sums.estimatedTenths / 10,
      leaves: all.leaves + row.leaves,
      down: all.down + (row.sums.estimatedTenths / 10 - row.low) ** 2,
      up: all.up + (row.high - row.sums.estimatedTenths / 10) ** 2,
    }),
    { spend: 0, results: 0, leaves: 0, down: 0, up: 0 },
  )
  const { down, up, ...sums } = sum
  return { ...sums, low: sums.results - Math.sqrt(down), high: sums.results + Math.sqrt(up) }
}
const outcome = (forecast: Forecast, days: number, rows: readonly JudgedRow[]): Outcome => {
  const foreseen = forecastOver(forecast, days)
  const happened = rows.length > 0 ? sumsOf(rows) : noneOf
  const held = happened.results >= foreseen.low - 0.5 && happened.results <= foreseen.high + 0.5
  return { days, foreseen, happened, held: days > 0 && held }
}

/** No outcome is looked at over more days than these: too much else has changed by then. */
const MOST_DAYS = 28

/**
 * The last day of which all networks have told at which a list moved anything; null where none ever has. A network
 * that was stopped altogether, and placements of our own, tell of nothing any more: they are waited for no longer
 * than the others.
 */
export function toldUntil({ data }: Evidence, { moves }: MoveList): Day | null {
  const told = billedUntil(data)
  const latest = latestBilled(told)
  if (latest === null) return null
  return [...new Set(moves.map(move => move.network))].reduce(
    (least, network) => Math.min(least, told[data.tree.networks.indexOf(network)] ?? latest),
    latest,
  )
}

/**
 * What became of a list of moves, from the day after on.
 *
 * @param day the day of the list
 */
export function outcomesOf(
  evidence: Evidence,
  list: MoveList,
  day: Day,
  judged: (period: Period) => ReturnType<typeof judge> = period => judge(evidence, period, 'billed'),
): { account: Outcome; moves: Outcome[] } {
  const { moves, account } = list
  const days = Math.max(0, Math.min(MOST_DAYS, (toldUntil(evidence, list) ?? day) - day))
  if (days === 0)
    return { account: outcome(account, 0, []), moves: moves.map(move => outcome(move.forecast, 0, [])) }
  const { rows, networks } = judged({ from: day + 1, to: day + days })
  const byPath = new Map(rows.map(row => [planKey(row.path), row]))
  const touched = new Set(moves.map(move => move.network))
  return {
    account: outcome(
      account,
      days,
      networks.filter(row => touched.has(row.network)),
    ),
    moves: moves.map(move => outcome(move.forecast, days, [byPath.get(planKey(move.path)) ?? []].flat())),
  }
}
