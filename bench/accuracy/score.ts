import { buildDataset } from '@/core/intake/dataset'
import { parseDay } from '@/core/shared/days'
import { type Evidence, gatherEvidence } from '@/core/weigh/evidence'
import { judge } from '@/core/weigh/judge'
import { median } from '../median'
import { type MarketPlan, playMarket, type Truth, usualPlan } from './market'

const SEEDS = 10

/** Means over markets of several seeds. */
export interface Score {
  seeds: number
  /** median |ln(estimate / true)| over ads of at least five true orders */
  median: number
  /** share of 80 % intervals that hold the truth */
  cover: number
  /** the same median for who lacks only what chance hides, for networks' claims, and for our tracking */
  oracle: number
  claimed: number
  tracked: number
  /** estimated orders of all these ads over their true ones */
  sum: number
  /** the same three of the ads of networks that report no conversions */
  silent?: { median: number; cover: number; oracle: number; sum: number }
  /** how far the cost of a campaign in a month lies from that by daily reports, at most over campaigns of ten orders */
  month_off?: number
  /** how far the first network's capture in the week after its drop is off */
  capture_off?: number
}

export function scoreMarkets(plan: Partial<MarketPlan>): Score {
  const scores = Array.from({ length: SEEDS }, (_, seed) => scoreMarket({ ...usualPlan, ...plan, seed }))
  const mean = (pick: (score: Omit<Score, 'seeds'>) => number) =>
    Number((scores.reduce((sum, score) => sum + pick(score), 0) / SEEDS).toFixed(4))
  return {
    seeds: SEEDS,
    median: mean(s => s.median),
    cover: mean(s => s.cover),
    oracle: mean(s => s.oracle),
    claimed: mean(s => s.claimed),
    tracked: mean(s => s.tracked),
    sum: mean(s => s.sum),
    ...(scores[0]!.silent
      ? {
          silent: {
            median: mean(s => s.silent!.median),
            cover: mean(s => s.silent!.cover),
            oracle: mean(s => s.silent!.oracle),
            sum: mean(s => s.silent!.sum),
          },
        }
      : {}),
    ...(plan.weekly ? { month_off: mean(s => s.month_off ?? 0) } : {}),
    ...(plan.drop ? { capture_off: mean(s => s.capture_off ?? 0) } : {}),
  }
}

const always = { from: -1e6, to: 1e6 }
const LEAST_ORDERS = 5

function scoreMarket(plan: MarketPlan): Omit<Score, 'seeds'> {
  const { records, settings, truth } = playMarket(plan)
  const evidence = gatherEvidence(buildDataset(records, settings))
  const rows = new Map(
    judge(evidence, always).rows.flatMap(row =>
      row.level === 'ad' ? [[`${row.network}/${row.id}`, row] as const] : [],
    ),
  )
  const seenBy = oracleOf(truth, plan)
  const told = truth.ads
    .filter(ad => ad.orders >= LEAST_ORDERS)
    .map(ad => {
      const row = rows.get(`${ad.network}/${ad.id}`)!
      const off = (value: number) => Math.abs(Math.log(Math.max(0.5, value) / ad.orders))
      return {
        network: ad.network,
        orders: ad.orders,
        estimate: row.sums.estimatedTenths / 10,
        median: off(row.sums.estimatedTenths / 10),
        oracle: off(seenBy.get(ad.id) ?? 0),
        claimed: off(row.sums.claimed),
        tracked: off((row.sums.provenCredit + row.sums.taggedCredit) / 1e6),
        held: row.low <= ad.orders && ad.orders <= row.high,
      }
    })
  const figures = (ads: typeof told) => ({
    median: median(ads.map(one => one.median)),
    oracle: median(ads.map(one => one.oracle)),
    cover: ads.filter(one => one.held).length / ads.length,
    sum: ads.reduce((sum, one) => sum + one.estimate, 0) / ads.reduce((sum, one) => sum + one.orders, 0),
  })
  const silent = told.filter(one => plan.silent.includes(one.network))
  return {
    ...figures(told),
    claimed: median(told.map(one => one.claimed)),
    tracked: median(told.map(one => one.tracked)),
    ...(silent.length === 0 ? {} : { silent: figures(silent) }),
    ...(plan.weekly === 'nothing' ? {} : { month_off: monthOff(evidence, plan) }),
    ...(plan.drop === null
      ? {}
      : { capture_off: Math.abs(captureAfter(evidence, plan) - truth.captureAfter!) }),
  }
}

const MONTH = { from: parseDay('2026-10-01')!, to: parseDay('2026-10-31')! }

/** How far weekly reports put the cost of a campaign in a month off that by daily ones, at most. */
function monthOff(evidence: Evidence, plan: MarketPlan): number {
  const { records, settings } = playMarket({ ...plan, weekly: 'nothing' })
  const daily = gatherEvidence(buildDataset(records, settings))
  const costs = (of: Evidence) =>
    new Map(
      judge(of, MONTH).rows.flatMap(({ level, network, id, sums }) =>
        level === 'campaign' && sums.estimatedTenths >= 100
          ? [[`${network}/${id}`, sums.spend / sums.estimatedTenths] as const]
          : [],
      ),
    )
  const own = costs(evidence)
  return Math.max(...[...costs(daily)].map(([key, cost]) => Math.abs((own.get(key) ?? 0) / cost - 1)))
}

/** What somebody would say who knew every seen order's ad and each order's chance of being seen by nobody. */
function oracleOf({ ads, orders }: Truth, { blocking, sumsBy }: MarketPlan): Map<string, number> {
  const sums = new Map<string, number>()
  const add = (ad: string, count: number) => sums.set(ad, (sums.get(ad) ?? 0) + count)
  // Of what only a sum above ads tells of, nobody can say the ad: it is shared by what is tracked of them.
  const above = new Map(ads.map(ad => [ad.id, sumsBy === 'campaign' ? ad.campaign : ad.network]))
  const pools = new Map<string, number>()
  const known = new Map<string, number>()
  for (const { ad, seen, tracked, unseen } of orders) {
    if (!seen) continue
    const count = 1 / (1 - unseen) / (1 - blocking)
    const pool = sumsBy === 'ad' || tracked ? null : above.get(ad)!
    if (tracked) known.set(ad, (known.get(ad) ?? 0) + 1)
    if (pool === null) add(ad, count)
    else pools.set(pool, (pools.get(pool) ?? 0) + count)
  }
  for (const [pool, count] of pools) {
    const own = ads.filter(ad => above.get(ad.id) === pool)
    const whole = own.reduce((sum, ad) => sum + (known.get(ad.id) ?? 0), 0)
    for (const ad of own) add(ad.id, (count * (known.get(ad.id) ?? 0)) / Math.max(1, whole))
  }
  return sums
}

/** The first network's estimated capture in the week after its drop. */
function captureAfter({ data, estimate }: Evidence, { days, drop }: MarketPlan): number {
  const last = data.orders.at(-1)!.day
  const from = last - days + 1 + drop!
  const network = data.tree.networks.indexOf('aldermoor')
  return estimate.captureOn(network, from, from + 6)
}
