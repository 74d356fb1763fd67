import type { Claim, Dataset } from '../intake/dataset'
import { networkRules } from '../intake/settings'
import { append } from '../shared/append'
import { type Day, HOUR_MS, zoneClock } from '../shared/days'
import type { Placement } from './place'

/** How a claim was matched to an order; null when it was not. */
export type MatchedBy = 'hand' | 'transaction' | 'click_id' | 'value_and_time' | 'day'

export interface Match {
  /** order number, -1 for none */
  order: number
  by: MatchedBy | null
}

const MINUTE_MS = 60_000
const NEAR_MS = 36 * HOUR_MS
/** How long after an ad click an order may come that a network dates by the click. */
const CLICK_DATED_REACH: Day = 14

/**
 * Finds the order behind each claim: as somebody decided, by transaction ID, by click ID, by value and time, and for units of
 * a daily sum by ad and day. An order is matched at most once by a network in the last three ways.
 *
 * @returns one match per claim of the dataset, in its order
 */
export function matchClaims(data: Dataset, placements: readonly Placement[]): Match[] {
  const { claims, orders } = data
  const matches: Match[] = claims.map(() => ({ order: -1, by: null }))
  const orderById = new Map(orders.map((o, i) => [o.order_id, i]))
  const taken = data.tree.networks.map(() => new Set<number>())
  const settle = (claim: number, order: number, by: MatchedBy) => {
    matches[claim] = { order, by }
    taken[claims[claim]!.network]?.add(order)
  }

  claims.forEach((claim, i) => {
    const order = claim.decided?.order == null ? undefined : orderById.get(claim.decided.order)
    if (order !== undefined) settle(i, order, 'hand')
  })
  claims.forEach((claim, i) => {
    if (claim.decided !== null || claim.transaction === null) return
    const order = orderById.get(claim.transaction)
    if (order !== undefined) settle(i, order, 'transaction')
  })

  const open = (i: number) => {
    const { decided, transaction } = claims[i]!
    return matches[i]!.order < 0 && decided === null && transaction === null
  }
  const named = new Set(
    claims.flatMap((claim, i) => (claim.clickId !== null && open(i) ? claim.clickId : [])),
  )
  const ordersOfClick = ordersByClick(data, placements, named)
  claims.forEach((claim, i) => {
    if (!open(i) || claim.clickId === null) return
    const candidates = ordersOfClick.get(claim.clickId) ?? []
    const at = claim.at ?? 0
    const nearest = candidates
      .filter(o => !taken[claim.network]!.has(o))
      .sort((a, b) => Math.abs(orders[a]!.ordered_at - at) - Math.abs(orders[b]!.ordered_at - at))[0]
    if (nearest !== undefined) settle(i, nearest, 'click_id')
  })

  for (const pair of byValueAndTime(data, placements, matches, open))
    if (open(pair.claim) && !taken[claims[pair.claim]!.network]!.has(pair.order))
      settle(pair.claim, pair.order, 'value_and_time')

  const daily = claims.flatMap((claim, i) => (claim.at === null && open(i) ? [i] : []))
  if (daily.length > 0) matchByDay(data, placements, daily, taken, settle)
  return matches
}

/** Orders by those click IDs (ours and the network's) that some claim names, of clicks that may have brought them. */
function ordersByClick(
  data: Dataset,
  placements: readonly Placement[],
  named: ReadonlySet<string>,
): Map<string, number[]> {
  const found = new Map<string, number[]>()
  if (named.size === 0) return found
  placements.forEach((placement, order) => {
    for (const click of placement.touches)
      for (const id of [data.clicks.ids[click], data.clicks.networkClickIds[click]])
        if (id && named.has(id)) append(found, id, order)
  })
  return found
}

/** Pairs of claims and orders of the same value near in time, likeliest first. */
function byValueAndTime(
  data: Dataset,
  placements: readonly Placement[],
  matches: readonly Match[],
  open: (claim: number) => boolean,
) {
  const { claims, orders } = data
  const sought = (claim: Claim, c: number) => open(c) && claim.at !== null && claim.valued
  const byValue = new Map<number, number[]>()
  claims.forEach((claim, c) => void (sought(claim, c) && byValue.set(claim.value, [])))
  orders.forEach((order, i) => {
    byValue.get(order.gross)?.push(i)
    if (order.value !== order.gross) byValue.get(order.value)?.push(i)
  })
  const unit = Math.max(10 * MINUTE_MS, 3 * usualLag(data, matches))
  const pairs: { claim: number; order: number; score: number }[] = []
  claims.forEach((claim, c) => {
    if (!sought(claim, c)) return
    for (const o of byValue.get(claim.value)!) {
      const apart = Math.abs(orders[o]!.ordered_at - claim.at!)
      if (apart > NEAR_MS) continue
      pairs.push({ claim: c, order: o, score: apart + kinship(data, placements[o]!, claim) * unit })
    }
  })
  return pairs.sort((a, b) => a.score - b.score)
}

/** How far apart claim and order usually are, in ms, by the claims whose order is certain. */
function usualLag(data: Dataset, matches: readonly Match[]): number {
  const lags = data.claims.flatMap((claim, c) => {
    const order = data.orders[matches[c]!.order]
    return order && claim.at !== null ? [Math.abs(claim.at - order.ordered_at)] : []
  })
  return lags.sort((a, b) => a - b)[Math.floor(lags.length / 2)] ?? 0
}

/** 0 when our evidence names the claim's ad, 1 when nothing speaks against it, 2 when it names another. */
function kinship(data: Dataset, placement: Placement, claim: Claim): number {
  if (placement.credits.length === 0) return 1
  if (placement.credits.some(c => c.leaf === claim.leaf)) return 0
  return placement.credits.some(c => data.tree.networkOf[c.leaf] === claim.network) ? 1 : 2
}

/**
 * Gives units of daily sums to orders: first to those our evidence credits to the same ad on that day
 * (the order's day, or its click's where the network dates by click), then to unplaced orders of the day,
 * the nearest in value first.
 */
function matchByDay(
  data: Dataset,
  placements: readonly Placement[],
  daily: readonly number[],
  taken: readonly Set<number>[],
  settle: (claim: number, order: number, by: MatchedBy) => void,
): void {
  const { claims, orders, clicks, settings, tree } = data
  const rules = tree.networks.map(n => networkRules(settings, n))
  const clocks = rules.map(r => zoneClock(r.time_zone))
  const credited = new Map<string, number[]>()
  const unplaced = new Map<Day, number[]>()
  placements.forEach((placement, o) => {
    if (placement.credits.length === 0) append(unplaced, orders[o]!.day, o)
    for (const credit of placement.credits) {
      const network = tree.networkOf[credit.leaf]!
      const byClick = rules[network]!.dated_by === 'click' && credit.click >= 0
      const day = clocks[network]!(byClick ? clicks.at[credit.click]! : orders[o]!.ordered_at).day
      append(credited, `${credit.leaf}@${day}`, o)
    }
  })
  const nearest = (claim: Claim, candidates: readonly number[]) =>
    candidates
      .filter(o => !taken[claim.network]!.has(o))
      .sort((a, b) => Math.abs(orders[a]!.value - claim.value) - Math.abs(orders[b]!.value - claim.value))[0]

  const left = daily.filter(c => {
    const claim = claims[c]!
    if (claim.kind === 'view') return true
    const order = nearest(claim, credited.get(`${claim.leaf}@${claim.day}`) ?? [])
    if (order !== undefined) settle(c, order, 'day')
    return order === undefined
  })
  const free = new Set([...unplaced.values()].flat())
  for (const c of left) {
    const claim = claims[c]!
    const reach = rules[claim.network]!.dated_by === 'click' ? CLICK_DATED_REACH : 0
    for (let after = 0; after <= reach; after++) {
      const order = nearest(
        claim,
        (unplaced.get(claim.day + after) ?? []).filter(o => free.has(o)),
      )
      if (order === undefined) continue
      free.delete(order)
      settle(c, order, 'day')
      break
    }
  }
}
