import { claimingNetworks } from '@/core/estimate/estimate'
import { WHOLE } from '@/core/evidence/place'
import { CONVERSION, partsOf } from '@/core/intake/claimUnits'
import { formatDay, inPeriod, type Period } from '@/core/shared/days'
import { currencyExponent } from '@/core/shared/money'
import { pathKey } from '@/core/shared/path'
import { billedDays, billedPeriods, billedUntil, latestBilled } from '@/core/weigh/billed'
import { capturesIn } from '@/core/weigh/captures'
import { measureElasticity } from '@/core/weigh/elasticity'
import type { Evidence } from '@/core/weigh/evidence'
import { costOf, noSums, ratio } from '@/core/weigh/figures'
import { type Judgement, judgeByPart } from '@/core/weigh/judge'
import type { PlainRule } from '@/core/weigh/plainRules'
import type { JudgedRow } from '@/core/weigh/rows'
import { tryRules, type WouldHaveCut } from '@/core/weigh/rulesTried'
import type { Scope } from '@/core/weigh/scope'
import { seriesBy } from '@/core/weigh/series'
import { type StandsOn, standsOn } from '@/core/weigh/standsOn'
import { groupsOf, weighRows } from '@/core/weigh/weighRow'
import { judgeOnce, type Question } from './judged'

/** What is asked of Weigh, with what is known beside the records. */
export interface WeighQuestion extends Question {
  /** days for which each network learns an ad, where that is said */
  learning?: Readonly<Record<string, number>>
  /** ads whose clicks are billed and never arrive, as `network/ad` */
  lost?: readonly string[]
}

const isIn = (scope: Scope) => (row: { network: string }) => !scope.network || row.network === scope.network
const factsOf = ({ learning = {}, lost = [] }: WeighQuestion) => ({
  learningDays: (network: string) => learning[network] ?? 0,
  lostClicks: new Set(lost),
})

/** A network's totals; nothing for one of which nothing is known. */
const totalsOf = ({ networks, totals }: Judgement, network: string): Judgement['totals'] =>
  networks.find(row => row.network === network) ?? { ...totals, network, sums: noSums(), low: 0, high: 0 }

/**
 * Totals and campaigns for Weigh, or what a part of names or a segment holds (`by`); sums in minor units. Days of
 * which a network has not told yet what it spent are in none of them.
 *
 * @param parted the same evidence with its ads parted by that segment
 */
export function weighView(
  e: Evidence,
  question: WeighQuestion & { by?: string | undefined },
  parted: Evidence = e,
) {
  const { period, scope, by } = question
  const judgement = judgeOnce(e, period)
  const keep = isIn(scope)
  const { networks } = e.data.tree
  const campaigns = judgement.rows.filter(row => row.level === 'campaign' && keep(row))
  return {
    currency: e.data.settings.currency,
    period: { from: formatDay(period.from), to: formatDay(period.to) },
    /** how many days of spend the figures are of: of the network that has told most */
    days: Math.max(
      1,
      ...billedDays(e.data, period).filter((_, n) => !scope.network || networks[n] === scope.network),
    ),
    totals: scope.network ? totalsOf(judgement, scope.network) : judgement.totals,
    line: scope.network ? totalsOf(judgement, scope.network).line : judgement.line,
    breakEvenRoas: judgement.breakEvenRoas,
    blendedRoas: blendedRoas(e, period),
    campaigns: weighRows(e, campaigns, period, factsOf(question)),
    /** by network, the share of its orders that it reported; null for one that claims nothing */
    captures: Object.fromEntries(
      capturesIn(e, period).map(({ networkCapture }, n) => [networks[n]!, networkCapture]),
    ) as Record<string, number | null>,
    rests: restsOn(e, judgement, question),
    /** the last day of which any network has told what it spent; null where none has */
    toldUntil: latestTold(e),
    /** networks that have not told yet what they spent on the last days of the period */
    unbilled: billedUntil(e.data).flatMap((day, n) =>
      day !== null && day < period.to && (!scope.network || networks[n] === scope.network)
        ? [{ network: networks[n]!, until: formatDay(day) }]
        : [],
    ),
    by: by ?? null,
    byPart:
      by === undefined
        ? null
        : weighRows(
            parted,
            judgeByPart(parted, period, by, scope.network ?? ''),
            period,
            factsOf({ ...question, learning: {} }),
          ),
  }
}
export type WeighView = ReturnType<typeof weighView>

/** What estimates rest on where a witness is missing. */
export interface RestsOn {
  /** no network reports conversions: what is tracked is a count, of so many at least */
  tracked: boolean
  /** no clicks are recorded: orders are known by the parameters of their landing page */
  byParameters: boolean
  /** networks that report none, with their tracked orders and the range of their estimate */
  silent: { network: string; tracked: number; low: number; high: number }[]
  /** those that do, by which the former are estimated */
  claiming: string[]
  days: StandsOn
}

function restsOn(e: Evidence, judgement: Judgement, { scope, period }: Question): RestsOn {
  const { data, estimate } = e
  const codes = new Set(estimate.findings.map(finding => finding.code))
  const without = new Set(
    estimate.findings.flatMap(finding => (finding.code === 'no_claims' ? [finding.at.network] : [])),
  )
  return {
    tracked: codes.has('nothing_claimed'),
    byParameters: codes.has('by_parameters'),
    silent: judgement.networks.flatMap(({ network, sums, low, high }) =>
      without.has(network) && (!scope.network || scope.network === network) && high > 0
        ? [{ network, tracked: Math.round((sums.provenCredit + sums.taggedCredit) / WHOLE), low, high }]
        : [],
    ),
    claiming: data.tree.networks.filter((_, n) => claimingNetworks(data).has(n)),
    days: standsOn(e, scope, period),
  }
}

/** Value of all orders that count over all spend, on the days of which spend is known; null without spend. */
function blendedRoas({ data }: Evidence, { from, to }: Period): number | null {
  const days = { from, to: Math.min(to, latestBilled(billedUntil(data)) ?? to) }
  const value = data.orders.reduce(
    (sum, order) => (order.counts && inPeriod(order.day, days) ? sum + order.value : sum),
    0,
  )
  const spend = data.delivery.reduce((sum, row) => (inPeriod(row.day, days) ? sum + row.spend : sum), 0)
  return ratio(value, spend)
}

function latestTold({ data }: Evidence): string | null {
  const day = latestBilled(billedUntil(data))
  return day === null ? null : formatDay(day)
}

/** The ad sets and ads below, as JSON text: there may be ten thousand, and no page waits for them. */
export function weighBelowView(e: Evidence, question: WeighQuestion): string {
  const { period, scope } = question
  const keep = isIn(scope)
  const rows = judgeOnce(e, period).rows.filter(row => row.level !== 'campaign' && keep(row))
  return JSON.stringify(weighRows(e, rows, period, factsOf(question)))
}

/** So many stretches a sparkline has at most. */
const STRETCHES = 14

/** What each row spent and brought in equal stretches of the period. */
export interface Spark {
  spend: number[]
  results: number[]
}

/** How rows went through the period, by their path: for lines in cells. */
export function weighSparksView(e: Evidence, { period, scope }: Question): Record<string, Spark> {
  const keep = isIn(scope)
  const rows = judgeOnce(e, period).rows.filter(keep)
  const found: Record<string, Spark> = {}
  for (const level of ['campaign', 'ad_set', 'ad'] as const) {
    const own = rows.filter(row => row.level === level)
    const series = seriesBy(e, period, groupsOf(e, own), own.length)
    const length = Math.ceil(series.days / STRETCHES)
    const stretches = Math.ceil(series.days / length)
    own.forEach((row, group) => {
      const spark: Spark = { spend: Array(stretches).fill(0), results: Array(stretches).fill(0) }
      for (let day = 0; day < series.days; day++) {
        const at = Math.floor(day / length)
        spark.spend[at]! += series.spend[group * series.days + day]!
        spark.results[at]! += series.results[group * series.days + day]!
      }
      found[pathKey(...row.path)] = {
        spend: spark.spend,
        results: spark.results.map(value => Math.round(value * 10) / 10),
      }
    })
  }
  return found
}

/** Claims of each row by how its network calls them, and after a click or a view. */
export function weighConversionsView(
  e: Evidence,
  { period, scope }: Question,
): { names: string[]; rows: Record<string, number[]> } {
  const { tree, claims } = e.data
  const billed = billedPeriods(e.data, period)
  const names: string[] = []
  const rows: Record<string, number[]> = {}
  for (const claim of claims) {
    let number = names.indexOf(claim.conversion)
    if (number < 0) number = names.push(claim.conversion) - 1
    for (const { leaf, thousandths } of partsOf(claim)) {
      const { network, campaign, adSet, ad } = tree.leaves[leaf]!
      if (!inPeriod(claim.day, billed(leaf)) || (scope.network && network !== scope.network)) continue
      for (const path of [
        [network, campaign],
        [network, campaign, adSet],
        [network, campaign, adSet, ad],
      ]) {
        const own = (rows[pathKey(...path)] ??= [])
        own[number] = (own[number] ?? 0) + thousandths / CONVERSION
      }
    }
  }
  return { names, rows }
}

/** So far back the elasticity of results is looked for. */
const ELASTIC_DAYS = 84

/** What plans rest on: how results rose with spend in the past. */
export function weighPlanView(e: Evidence, { period }: Question) {
  const ads = judgeOnce(e, period).rows.filter(row => row.level === 'ad')
  const days = { from: period.to - ELASTIC_DAYS + 1, to: period.to }
  return { measured: measureElasticity(seriesBy(e, days, groupsOf(e, ads), ads.length)) }
}
export type WeighPlan = ReturnType<typeof weighPlanView>

/** Over so many days plain rules are tried, and so many they look back. */
const TRIED = { days: 30, window: 28 }

/** What plain rules would have done in the last month. */
export function rulesTriedView(
  e: Evidence,
  { period, scope, rules }: Question & { rules: readonly PlainRule[] },
): (WouldHaveCut & { row: Pick<JudgedRow, 'network' | 'name' | 'id' | 'path'> })[] {
  const { currency } = e.data.settings
  const keep = isIn(scope)
  const ads = judgeOnce(e, period).rows.filter(row => row.level === 'ad' && keep(row))
  const days = { from: period.to - TRIED.days - TRIED.window + 1, to: period.to }
  const series = seriesBy(e, days, groupsOf(e, ads), ads.length)
  return tryRules(
    series,
    ads.map(row => row.line),
    rules,
    { window: TRIED.window, first: TRIED.window, minorUnits: 10 ** (currencyExponent(currency) ?? 2) },
  ).map(one => {
    const { network, name, id, path } = ads[one.group]!
    return { ...one, row: { network, name, id, path } }
  })
}
export type RulesTried = ReturnType<typeof rulesTriedView>

/** Spend, estimated orders and the cost of one, of the named ads (`network/ad`). */
export function adFiguresView(e: Evidence, { period, ads }: { period: Period; ads: readonly string[] }) {
  const wanted = new Set(ads)
  return judgeOnce(e, period)
    .rows.filter(row => row.level === 'ad' && wanted.has(`${row.network}/${row.id}`))
    .map(({ network, id, sums }) => ({
      ad: `${network}/${id}`,
      spend: sums.spend,
      orders: sums.estimatedTenths / 10,
      cost: costOf(sums, sums.estimatedTenths / 10),
    }))
}
