import { clickColumns } from '@/core/intake/clicks'
import { buildDataset, type Records } from '@/core/intake/dataset'
import { DAY_MS } from '@/core/shared/days'
import { type Evidence, gatherEvidence } from '@/core/weigh/evidence'
import { forecastOver } from '@/core/weigh/forecast'
import { type Judgement, judge } from '@/core/weigh/judge'
import { movesOf } from '@/core/weigh/moves'
import { planKey } from '@/core/weigh/whatIf'
import { MARGIN, type MarketPlan, playMarket, usualPlan } from './market'

const MARKETS = 30
/** Days before anything is decided, days for which decisions are followed, and how often there is another. */
const [BEFORE, FOLLOWED, EVERY] = [45, 30, 10]
/** Where there is nothing else to go by, a row is judged by what it did lately. */
const LATELY = 28

type Factors = ReadonlyMap<string, number>
type Serving = NonNullable<MarketPlan['serving']>
/** Whoever decides by what is known of a market, at a day: the ads' new shares of their first budgets. */
type Policy = (
  known: { evidence: Evidence; judged: Judgement; last: number },
  now: Factors,
) => Map<string, number>

type Market = ReturnType<typeof playMarket>
const keyOf = (network: string, ad: string) => `${network}/${ad}`
const adsOf = ({ rows }: Judgement) => rows.filter(row => row.level === 'ad' && row.id)

/** (a) Cuts every ad without an order that the shop sees in three days. */
const noOrderInThreeDays: Policy = ({ evidence, last, judged }, now) => {
  const lately = judge(evidence, { from: last - 2, to: last })
  const sold = new Set(
    adsOf(lately).flatMap(row =>
      row.sums.provenCredit + row.sums.taggedCredit > 0 ? [keyOf(row.network, row.id)] : [],
    ),
  )
  return new Map(
    adsOf(judged).map(row => {
      const key = keyOf(row.network, row.id)
      return [key, sold.has(key) ? (now.get(key) ?? 1) : 0]
    }),
  )
}
/** (b) Cuts what is over one line for all by the networks' claims. */
const overByClaims: Policy = ({ judged }, now) => {
  const { totals } = judged
  const line = (MARGIN * totals.sums.claimedValue) / Math.max(1, totals.sums.claimed)
  return new Map(
    adsOf(judged).map(row => {
      const key = keyOf(row.network, row.id)
      const over = row.sums.spend > line * row.sums.claimed
      return [key, over ? 0 : (now.get(key) ?? 1)]
    }),
  )
}
/** Follows the verdicts: what they cut goes to what they raise, and what waits or holds stays as it is. */
const byVerdicts: Policy = ({ judged }, now) => {
  const ads = adsOf(judged).map(row => ({ row, key: keyOf(row.network, row.id), kind: row.verdict.kind }))
  const spent = (kind: string) =>
    ads.reduce((sum, ad) => (ad.kind === kind ? sum + ad.row.sums.spend : sum), 0)
  const raised = spent('raise') > 0 ? 1 + spent('cut') / spent('raise') : 1
  return new Map(
    ads.map(({ key, kind }) => [
      key,
      kind === 'cut' ? 0 : (now.get(key) ?? 1) * (kind === 'raise' ? raised : 1),
    ]),
  )
}

export interface FollowingScore {
  markets: number
  /** what results left for each unit of spend, after decisions, over what it is where nothing is changed */
  verdicts: number
  no_order_in_3_days: number
  over_by_claims: number
  /** markets in which verdicts brought more than each of the others */
  better_than: { no_order_in_3_days: number; over_by_claims: number; no_change: number }
  /** of 80 % forecasts of moves, over the days up to the next decision, the share that held: of ads, and of accounts */
  forecasts: { ads: number; ads_held: number; accounts: number; accounts_held: number }
}

/** What was known of a market up to a day. */
function knownUntil({ records, clicks }: Market, last: number): Records {
  const end = (last + 1) * DAY_MS
  return {
    ...records,
    clicks: clickColumns(clicks.filter(click => click.clicked_at < end)),
    delivery: records.delivery.filter(row => row.date <= last),
    orders: records.orders.filter(row => row.ordered_at < end),
    claimRows: records.claimRows.filter(row => row.claimed_at < end),
    claims: records.claims.filter(row => row.date <= last),
  }
}

/** Plays markets on under what each policy decides, for the same money, and sums up what came of it. */
export function scoreFollowing(plan: Partial<MarketPlan>): FollowingScore {
  const policies = {
    verdicts: byVerdicts,
    no_order_in_3_days: noOrderInThreeDays,
    over_by_claims: overByClaims,
  }
  const sums = { verdicts: 0, no_order_in_3_days: 0, over_by_claims: 0 }
  const better = { no_order_in_3_days: 0, over_by_claims: 0, no_change: 0 }
  const forecasts = { ads: 0, ads_held: 0, accounts: 0, accounts_held: 0 }
  for (let seed = 0; seed < MARKETS; seed++) {
    const usual: MarketPlan = {
      ...usualPlan,
      clickCost: 95,
      ...plan,
      days: BEFORE + FOLLOWED,
      seed: 700 + seed,
      serving: () => 1,
    }
    const unchanged = left(playMarket(usual))
    const brought = Object.fromEntries(
      Object.entries(policies).map(([name, policy]) => [
        name,
        left(follow(usual, policy, name === 'verdicts' ? forecasts : null)),
      ]),
    ) as Record<keyof typeof policies, number>
    for (const name of Object.keys(sums) as (keyof typeof sums)[]) sums[name] += brought[name] / unchanged
    if (brought.verdicts > brought.no_order_in_3_days) better.no_order_in_3_days += 1
    if (brought.verdicts > brought.over_by_claims) better.over_by_claims += 1
    if (brought.verdicts > unchanged) better.no_change += 1
  }
  const rounded = (value: number) => Number(value.toFixed(3))
  return {
    markets: MARKETS,
    verdicts: rounded(sums.verdicts / MARKETS),
    no_order_in_3_days: rounded(sums.no_order_in_3_days / MARKETS),
    over_by_claims: rounded(sums.over_by_claims / MARKETS),
    better_than: better,
    forecasts: {
      ...forecasts,
      ads_held: rounded(forecasts.ads_held / forecasts.ads),
      accounts_held: rounded(forecasts.accounts_held / forecasts.accounts),
    },
  }
}

/** What true results of the days after the first decision left for each unit of what was spent. */
function left({ records, truth }: Market): number {
  const first = Math.min(...records.delivery.map(row => row.date))
  const spend = records.delivery.reduce((sum, row) => (row.date >= first + BEFORE ? sum + row.spend : sum), 0)
  const value = truth.orders.reduce((sum, order) => (order.day >= BEFORE ? sum + order.value : sum), 0)
  return (MARGIN * value) / spend
}

/** A market as it goes on under what a policy decides. Money that is taken from some ads goes to the others. */
function follow(usual: MarketPlan, policy: Policy, forecasts: FollowingScore['forecasts'] | null): Market {
  const decided: { from: number; factors: Map<string, number> }[] = []
  const serving: Serving = (network, ad, day) =>
    decided.findLast(one => day >= one.from)?.factors.get(keyOf(network, ad)) ?? 1
  let market = playMarket({ ...usual, serving })
  for (let day = BEFORE; day < BEFORE + FOLLOWED; day += EVERY) {
    const first = Math.min(...market.records.delivery.map(row => row.date))
    const last = first + day - 1
    const evidence = gatherEvidence(buildDataset(knownUntil(market, last), market.settings))
    const period = { from: last - LATELY + 1, to: last }
    const judged = judge(evidence, period)
    const now = decided.at(-1)?.factors ?? new Map<string, number>()
    const wanted = policy({ evidence, judged, last }, now)
    // The same money as before: what each ad had at the beginning, in the shares that are wanted.
    const usualSpend = new Map<string, number>()
    for (const row of market.records.delivery)
      if (row.date < first + BEFORE)
        usualSpend.set(
          keyOf(row.network, row.ad_id!),
          (usualSpend.get(keyOf(row.network, row.ad_id!)) ?? 0) + row.spend,
        )
    const all = [...usualSpend.values()].reduce((sum, spend) => sum + spend, 0)
    const asked = [...usualSpend].reduce(
      (sum, [key, spend]) => sum + spend * (wanted.get(key) ?? now.get(key) ?? 0),
      0,
    )
    const scale = asked > 0 ? all / asked : 1
    const factors = new Map(
      [...usualSpend.keys()].map(key => [key, scale * (wanted.get(key) ?? now.get(key) ?? 0)]),
    )
    decided.push({ from: day, factors })
    market = playMarket({ ...usual, serving })
    // Budgets of the days that it was judged by: what is moved is moved from these.
    const shareOf = (key: string) => {
      const days = Array.from({ length: LATELY }, (_, i) => day - LATELY + i)
      const shares = days.map(at => decided.findLast(one => at >= one.from)?.factors.get(key) ?? 1)
      return shares.reduce((sum, share) => sum + share, 0) / LATELY
    }
    if (forecasts) hold(forecasts, evidence, judged, { period, factors, from: day, shareOf }, market)
  }
  return market
}

/** Holds what moves were expected to bring up to the next decision against what they truly brought. */
function hold(
  forecasts: FollowingScore['forecasts'],
  evidence: Evidence,
  judged: Judgement,
  {
    period,
    factors,
    from,
    shareOf,
  }: {
    period: { from: number; to: number }
    factors: Factors
    from: number
    /** the mean share of its budget that an ad had on the days that it is judged by */
    shareOf: (key: string) => number
  },
  { truth }: Market,
): void {
  const rows = judged.rows.filter(row => row.level === 'ad')
  const changed = new Map(
    rows.flatMap(row => {
      const key = keyOf(row.network, row.id)
      const was = shareOf(key)
      return was > 0 && row.sums.spend > 0 ? [[planKey(row.path), (factors.get(key) ?? 1) / was]] : []
    }),
  )
  const { account, moves } = movesOf(evidence, rows, period, changed, { elasticity: 0.8, cut: 'saved' })
  const days = Math.min(EVERY, BEFORE + FOLLOWED - from)
  const came = (ad?: string) =>
    truth.orders.filter(
      order => order.day >= from && order.day < from + days && (ad === undefined || order.ad === ad),
    ).length
  const holds = (forecast: typeof account, results: number) => {
    const { low, high } = forecastOver(forecast, days)
    return results >= low - 0.5 && results <= high + 0.5 ? 1 : 0
  }
  for (const move of moves) {
    forecasts.ads += 1
    forecasts.ads_held += holds(move.forecast, came(move.path.at(-1)))
  }
  forecasts.accounts += 1
  forecasts.accounts_held += holds(account, came())
}
