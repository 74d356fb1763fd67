import { claimingNetworks } from '@/core/estimate/estimate'
import { sumGap, sumGaps } from '@/core/evidence/gap'
import { unknownSources, WHOLE } from '@/core/evidence/place'
import { touchesOfOrder } from '@/core/evidence/touches'
import { countsAsOrder } from '@/core/intake/records'
import { type Level, nameOf } from '@/core/intake/tree'
import { formatDay, inPeriod, type Period } from '@/core/shared/days'
import { pathKey, readPath } from '@/core/shared/path'
import type { Journey } from '@/core/signals/journey'
import { provenCredits } from '@/core/weigh/credits'
import { claimedOrders, type Evidence, gradeOf } from '@/core/weigh/evidence'
import { costOf, noSums, ratio } from '@/core/weigh/figures'
import { type Judgement, judge, judgeByPart } from '@/core/weigh/judge'
import { type OpenedFigure, openFigure } from '@/core/weigh/openFigure'
import { type Figure, openingOf } from '@/core/weigh/openings'
import { type JudgementReport, reportJudgement } from '@/core/weigh/report'
import { inScope, type Scope } from '@/core/weigh/scope'
import type { Database } from '@/data/connect'
import { findingsOf } from '../judgeFolder'
import { gatherArrivals } from '../links/arrivals'
import { gatherAlarms } from '../signals/alarms'
import { walkedJourney } from '../signals/journey'

/** What a page asks for: a period, and the part of the account it is narrowed to. */
export interface Question {
  period: Period
  scope: Scope
}

const currencyOf = (e: Evidence) => e.data.settings.currency

export function judgeView(e: Evidence, { period, level }: { period: Period; level: Level }): JudgementReport {
  return reportJudgement(e, judgeOnce(e, period), e.data.settings, level, findingsOf(e.data, []))
}

/** The latest judgement of each evidence: the views of one screen ask for the same period. */
const judged = new WeakMap<Evidence, { period: Period; judgement: Judgement }>()
function judgeOnce(e: Evidence, period: Period): Judgement {
  const known = judged.get(e)
  if (known?.period.from === period.from && known.period.to === period.to) return known.judgement
  const judgement = judge(e, period)
  judged.set(e, { period, judgement })
  return judgement
}

const isIn = (scope: Scope) => (row: { network: string }) => !scope.network || row.network === scope.network

/** A network's totals; nothing for one of which nothing is known. */
const totalsOf = ({ networks, totals }: Judgement, network: string): Judgement['totals'] =>
  networks.find(row => row.network === network) ?? { ...totals, network, sums: noSums(), low: 0, high: 0 }

/** Totals and campaigns for Weigh, or what a part of names says (`by`); sums in minor units. */
export function weighView(e: Evidence, { period, scope, by }: Question & { by?: string | undefined }) {
  const judgement = judgeOnce(e, period)
  const keep = isIn(scope)
  return {
    currency: currencyOf(e),
    totals: scope.network ? totalsOf(judgement, scope.network) : judgement.totals,
    line: judgement.line,
    breakEvenRoas: judgement.breakEvenRoas,
    campaigns: judgement.rows.filter(row => row.level === 'campaign' && keep(row)),
    by: by ?? null,
    byPart: by === undefined ? null : judgeByPart(e, period, by, judgement.line, scope.network ?? ''),
  }
}
export type WeighView = ReturnType<typeof weighView>

/** The ad sets and ads below, as JSON text: there may be ten thousand, and no page waits for them. */
export function weighBelowView(e: Evidence, { period, scope }: Question): string {
  const keep = isIn(scope)
  return JSON.stringify(judgeOnce(e, period).rows.filter(row => row.level !== 'campaign' && keep(row)))
}

/** The two sides, the gap, and the same by day, network and campaign. */
export function reconcileView(e: Evidence, { period, scope }: Question) {
  const { data, estimate } = e
  const { fates } = judgeOnce(e, period)
  const leafIn = (leaf: number) => inScope(data.tree.leaves[leaf], scope)
  const gap = sumGap(data, fates, leafIn)
  const gaps = sumGaps(data, fates, i => {
    const leaf = data.tree.leaves[i]
    return leaf && leafIn(i) ? [pathKey(leaf.network), pathKey(leaf.network, leaf.campaign)] : []
  })
  const sections = [...gaps].map(([key, gap]) => {
    const [network, campaign] = readPath(key) as [string, string?]
    return {
      network,
      campaign: campaign ?? null,
      name:
        campaign === undefined ? network : campaign ? nameOf(data.tree, network, 'campaign', campaign) : '',
      gap,
    }
  })
  const days = dayLines(e, period, fates, leafIn)
  return {
    currency: currencyOf(e),
    gap,
    sections,
    unplaced: scope.network ? null : sumGap(data, fates, leaf => leaf < 0),
    days,
    captures: estimate.captures
      .map(c => ({ ...c, network: data.tree.networks[c.network]! }))
      .filter(c => !scope.network || c.network === scope.network),
  }
}
export type ReconcileView = ReturnType<typeof reconcileView>

function dayLines(
  { data, placements }: Evidence,
  period: Period,
  fates: ReturnType<typeof judge>['fates'],
  leafIn: (leaf: number) => boolean,
) {
  const byDay = new Map<
    number,
    { orders: number; claims: number; matched: number; tracked: number; both: number }
  >()
  const at = (day: number) => {
    let line = byDay.get(day)
    if (!line) byDay.set(day, (line = { orders: 0, claims: 0, matched: 0, tracked: 0, both: 0 }))
    return line
  }
  const claiming = claimingNetworks(data)
  data.orders.forEach((order, o) => {
    if (fates.orders[o] === null || !leafIn(fates.leafOf[o]!)) return
    const line = at(order.day)
    line.orders += 1
    if (fates.orders[o] === 'matched') line.matched += 1
    if (placements[o]!.credits.length === 0 || !claiming.has(data.tree.networkOf[fates.leafOf[o]!]!)) return
    line.tracked += 1
    if (fates.orders[o] === 'matched') line.both += 1
  })
  data.claims.forEach((claim, c) => {
    if (fates.claims[c] !== null && leafIn(claim.leaf)) at(claim.day).claims += 1
  })
  return [...byDay]
    .filter(([day]) => inPeriod(day, period))
    .sort((a, b) => a[0] - b[0])
    .map(([day, line]) => ({ day: formatDay(day), ...line, capture: ratio(line.both, line.tracked) }))
}

const ROWS_AT_ONCE = 300

/** A figure as it opens: itself, and pages of the lists in which it can be followed, the latest first. */
export function figureView(
  e: Evidence,
  { period, scope, figure, skip = 0 }: Question & { figure: Figure; skip?: number },
) {
  const { data } = e
  const opened = openFigure(e, figure, scope, period)
  const claimed = claimedOrders(e)
  const { fates } = judgeOnce(e, period)
  const { lists, over, under } = openingOf(figure)
  const amountOf = (part: string) => openFigure(e, part as Figure, scope, period)
  const page = <T>(rows: readonly T[]) => [...rows].reverse().slice(skip, skip + ROWS_AT_ONCE)
  return {
    currency: currencyOf(e),
    figure,
    lists,
    amount: opened.amount,
    worth: opened.worth,
    /** of a ratio, what stands over what */
    parts:
      over && under
        ? { over: partOf(figure, over, amountOf(over)), under: partOf(figure, under, amountOf(under)) }
        : null,
    orderCount: opened.orders.length,
    orderParts: opened.orders.reduce((sum, one) => sum + one.part, 0),
    orderAdded: opened.orders.reduce((sum, one) => sum + one.added, 0),
    claimCount: opened.claims.length,
    claimValue: opened.claims.reduce((s, c) => s + data.claims[c]!.value, 0),
    days: opened.days.map(day => ({ ...day, day: formatDay(day.day) })).reverse(),
    orders: page(opened.orders).map(({ order, part, added }) => ({
      ...orderLine(e, order, gradeOf(e, order, claimed)),
      part,
      added,
      fate: fates.orders[order] ?? null,
    })),
    claims: page(opened.claims).map(c => claimLine(e, c, fates.claims[c] ?? null)),
  }
}
export type FigureView = ReturnType<typeof figureView>

/** What stands over or under a ratio: of ROAS what the orders are worth. */
const partOf = (of: Figure, part: string, opened: OpenedFigure) =>
  of === 'roas' && part === 'estimated'
    ? { figure: part as Figure, amount: opened.worth, worth: true }
    : { figure: part as Figure, amount: opened.amount, worth: false }

function claimLine(e: Evidence, c: number, fate: Judgement['fates']['claims'][number]) {
  const { data, placements, matches } = e
  const claim = data.claims[c]!
  const leaf = data.tree.leaves[claim.leaf]!
  const { order: o, by } = matches[c]!
  const order = data.orders[o]
  return {
    at: claim.at,
    day: formatDay(claim.day),
    network: leaf.network,
    ad: nameOf(data.tree, leaf.network, 'ad', leaf.ad),
    kind: claim.kind,
    value: claim.value,
    fate,
    matchedBy: by,
    order: order
      ? { id: order.order_id, status: order.status, credits: placements[o]!.credits.length }
      : null,
    transaction: claim.transaction,
  }
}

function orderLine(e: Evidence, o: number, grade: ReturnType<typeof gradeOf>) {
  const { data, placements } = e
  const order = data.orders[o]!
  const placement = placements[o]!
  return {
    id: order.order_id,
    at: order.ordered_at,
    status: order.status,
    counts: countsAsOrder(order.status),
    value: order.value,
    grade,
    by: placement.by,
    touches: placement.touches.length,
    credits: placement.credits.map(c => {
      const leaf = data.tree.leaves[c.leaf]!
      return {
        network: leaf.network,
        campaignId: leaf.campaign,
        campaign: leaf.campaign ? nameOf(data.tree, leaf.network, 'campaign', leaf.campaign) : '',
        ad: leaf.ad ? nameOf(data.tree, leaf.network, 'ad', leaf.ad) : '',
        share: c.share / WHOLE,
        clickId: c.click >= 0 ? data.clicks.ids[c.click]! : null,
        clickedAt: c.click >= 0 ? data.clicks.at[c.click]! : null,
      }
    }),
  }
}
export type OrderLine = ReturnType<typeof orderLine>

/** How the named orders are known; those that are not among the judged ones are left out. */
export function orderEvidenceView(e: Evidence, ids: readonly string[]): OrderLine[] {
  const wanted = new Set(ids)
  const claimed = claimedOrders(e)
  return e.data.orders.flatMap((order, o) =>
    wanted.has(order.order_id) ? [orderLine(e, o, gradeOf(e, o, claimed))] : [],
  )
}

/** One order with all touches of whoever placed it and the claims on it; null for one that is not judged. */
export function orderView(e: Evidence, id: string) {
  const { data, placements, matches } = e
  const o = data.orders.findIndex(order => order.order_id === id)
  if (o < 0) return null
  const named = (leaf: number) => {
    const { network, campaign, ad } = data.tree.leaves[leaf]!
    return {
      network,
      campaign: campaign ? nameOf(data.tree, network, 'campaign', campaign) : '',
      ad: ad ? nameOf(data.tree, network, 'ad', ad) : '',
    }
  }
  return {
    line: orderLine(e, o, gradeOf(e, o, claimedOrders(e))),
    touches: touchesOfOrder(data, o, placements[o]!).map(({ click, ...touch }) => ({
      ...touch,
      clickId: data.clicks.ids[click]!,
      at: data.clicks.at[click]!,
      ...named(data.clicks.leaf[click]!),
    })),
    claims: matches.flatMap((match, c) => {
      const claim = data.claims[c]!
      return match.order === o
        ? [
            {
              ...named(claim.leaf),
              kind: claim.kind,
              at: claim.at,
              day: formatDay(claim.day),
              value: claim.value,
              by: match.by,
            },
          ]
        : []
    }),
  }
}

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

export const provenCreditsView = (e: Evidence, { period, scope }: Question) =>
  provenCredits(e, period, scope.network)

export const unknownSourcesView = (e: Evidence, _: null) => unknownSources(e.data, e.placements)

/** Where a view reads what is in no judgement. */
export interface Source {
  database: Database
  workspace: string
}

const journeyView = (e: Evidence, { journey, ...question }: Question & { journey: Journey }, from: Source) =>
  walkedJourney(from.database, from.workspace, e, journey, question)

const alarmsView = (e: Evidence, now: number, { database, workspace }: Source) =>
  gatherAlarms(database, workspace, e, now)

/** What can be asked of a worker about the evidence, by name. */
export const views = {
  judge: judgeView,
  weigh: weighView,
  weighBelow: weighBelowView,
  reconcile: reconcileView,
  figure: figureView,
  orderEvidence: orderEvidenceView,
  order: orderView,
  unknownSources: unknownSourcesView,
  adFigures: adFiguresView,
  provenCredits: provenCreditsView,
  journey: journeyView,
  alarms: alarmsView,
}

/** What a worker reads without the evidence: it does not wait until that is gathered. */
export const readings = {
  parameterArrivals: (_: null, now: number, { database, workspace }: Source) =>
    gatherArrivals(database, workspace, now),
}
export type Views = typeof views & typeof readings
export type ViewName = keyof Views
