import type { Claim } from '../intake/claim'
import type { Dataset, Order } from '../intake/dataset'
import { reportedAt } from '../intake/reportedAt'
import { networkRules } from '../intake/settings'
import { append } from '../shared/append'
import { carriedOver } from '../shared/carriedOver'
import { DAY_MS, type Day, HOUR_MS, zoneClock } from '../shared/days'
import type { Placement } from './place'

/** How a claim was matched to an order; null when it was not. */
export type MatchedBy = 'hand' | 'transaction' | 'click_id' | 'value_and_time' | 'day'

export interface Match {
  /** order number, -1 for none */
  order: number
  by: MatchedBy | null
}

const NO_MATCH: Match = { order: -1, by: null }

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
export const matchClaims = (data: Dataset, placements: readonly Placement[]): Match[] =>
  matchAll(data, placements).matches

function matchAll(data: Dataset, placements: readonly Placement[]): Pick<Matched, 'matches' | 'lag'> {
  const { claims, orders } = data
  const matches: Match[] = claims.map(() => ({ ...NO_MATCH }))
  const orderById = new Map(orders.map((o, i) => [o.order_id, i]))
  const taken = takenBy(data, [])
  const settle = (claim: number, order: number, by: MatchedBy) => {
    matches[claim] = { order, by }
    taken[claims[claim]!.network]![order] = 1
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
      .filter(o => taken[claim.network]![o] === 0)
      .sort((a, b) => Math.abs(orders[a]!.ordered_at - at) - Math.abs(orders[b]!.ordered_at - at))[0]
    if (nearest !== undefined) settle(i, nearest, 'click_id')
  })

  const byValue = claims.flatMap(({ at, valued }, c) => (open(c) && at !== null && valued ? [c] : []))
  const lag = usualLag(data, matches)
  matchByValue(data, placements, matches, taken, byValue, lag)

  matchByDay(data, placements, matches, taken)
  return { matches, lag }
}

/** Matches with the dataset and placements that they are of. */
export interface Matched {
  data: Dataset
  placements: readonly Placement[]
  matches: Match[]
  /** how far apart claim and order usually are (`usualLag`) */
  lag: number
}

/**
 * As `matchClaims`. Where other orders stand than before, and no claim names one of them, only claims of like
 * values and the units of days look for theirs again.
 */
export function matchUpon(before: Matched | null, data: Dataset, placements: readonly Placement[]): Matched {
  const anew = () => ({ data, placements, ...matchAll(data, placements) })
  // Claims are made with the tree, by the same rules.
  if (before?.data.claims !== data.claims) return anew()
  const sought = soughtBy(data)
  const { from, gone } = carriedOver(before.data.orders, data.orders, order => order.ordered_at)
  const numberOf = new Int32Array(before.data.orders.length).fill(-1)
  const other: { of: Dataset; placement: Placement; order: number }[] = []
  for (let o = 0; o < from.length; o++) {
    const was = from[o]!
    if (was >= 0) numberOf[was] = o
    if (was >= 0 && before.placements[was] === placements[o]) continue
    other.push({ of: data, placement: placements[o]!, order: o })
    if (was >= 0) other.push({ of: before.data, placement: before.placements[was]!, order: was })
  }
  for (const o of gone) other.push({ of: before.data, placement: before.placements[o]!, order: o })
  if (other.some(one => isNamed(sought, one.of, one.order, one.placement))) return anew()

  const values = likeValues(
    data.orders,
    sought.ofValue,
    other.flatMap(({ of, order }) => [of.orders[order]!.gross, of.orders[order]!.value]),
  )
  const since = sought.inDays ? firstDayOf(other) - CLICK_DATED_REACH : Number.NEGATIVE_INFINITY
  const matches = before.matches.map((match, c): Match => {
    if (match.by === 'day' && data.claims[c]!.day >= since) return NO_MATCH
    if (match.by === 'value_and_time' && values.has(data.claims[c]!.value)) return NO_MATCH
    const order = match.order < 0 ? -1 : numberOf[match.order]!
    return order === match.order ? match : { ...match, order }
  })
  const { lag } = before
  if (values.size > 0) {
    const open = [...values].flatMap(value => sought.ofValue.get(value)!)
    open.sort((a, b) => a - b)
    matchByValue(data, placements, matches, takenBy(data, matches), open, lag)
  }
  if (sought.daily.length > 0) matchByDay(data, placements, matches, takenBy(data, matches), since)
  return { data, placements, matches, lag }
}

/** The first day on which some orders or their clicks can be, in whatever zone. */
function firstDayOf(some: readonly { of: Dataset; placement: Placement; order: number }[]): Day {
  const days = some.flatMap(({ of, placement, order }) => [
    of.orders[order]!.day,
    ...placement.credits.map(({ click }) =>
      click < 0 ? Number.POSITIVE_INFINITY : Math.floor(of.clicks.at[click]! / DAY_MS),
    ),
  ])
  return Math.min(...days) - 1
}

/** Whether some claim names an order, or a click that may have brought it. */
const isNamed = (sought: Sought, { orders, clicks }: Dataset, order: number, { touches }: Placement) =>
  sought.orders.has(orders[order]!.order_id) ||
  touches.some(
    click =>
      sought.clickIds.has(clicks.ids[click]!) || sought.clickIds.has(clicks.networkClickIds[click] ?? ''),
  )

/** Of sought values those that some orders have, with all that stand beside one on an order of two values. */
function likeValues(
  orders: readonly Order[],
  sought: ReadonlyMap<number, unknown>,
  some: readonly number[],
): ReadonlySet<number> {
  const values = new Set(some.filter(value => sought.has(value)))
  if (values.size === 0) return values
  const beside = new Map<number, number[]>()
  for (const { gross, value } of orders)
    if (gross !== value && sought.has(gross) && sought.has(value)) {
      append(beside, gross, value)
      append(beside, value, gross)
    }
  // A set hands on what is added while it is gone through.
  for (const value of values) for (const other of beside.get(value) ?? []) values.add(other)
  return values
}

/** Per network, 1 for the orders that its claims have. */
function takenBy({ claims, orders, tree }: Dataset, matches: readonly Match[]): Uint8Array[] {
  const taken = tree.networks.map(() => new Uint8Array(orders.length))
  matches.forEach(({ order }, c) => {
    if (order >= 0) taken[claims[c]!.network]![order] = 1
  })
  return taken
}

/** What claims look for an order by. */
interface Sought {
  orders: Set<string>
  /** those that look by value, by it */
  ofValue: Map<number, number[]>
  clickIds: Set<string>
  /** units of a day's sum, which look at all orders of theirs, each with the number of its ad and day */
  daily: { claim: number; cell: number }[]
  /** numbers of the ads and days of such sums, by `atLeaf` */
  cells: Map<number, number>
  /** whether such sums stand in order of their days, so that none is looked at before those of earlier days */
  inDays: boolean
}
const soughtByClaims = new WeakMap<readonly Claim[], Sought>()
function soughtBy({ claims, tree }: Pick<Dataset, 'claims' | 'tree'>): Sought {
  const known = soughtByClaims.get(claims)
  if (known) return known
  const sought: Sought = {
    orders: new Set(),
    ofValue: new Map(),
    clickIds: new Set(),
    daily: [],
    cells: new Map(),
    inDays: true,
  }
  const claimedAt = reportedAt(tree, claims)
  const startOf = stretchStart(claims)
  claims.forEach(
    ({ decided, transaction, clickId, at, valued, value, network, leaf, day, stretch, thousandths }, c) => {
      // What is less than a conversion is no order's.
      if (thousandths !== undefined) return
      if (decided?.order) sought.orders.add(decided.order)
      else if (transaction !== null) sought.orders.add(transaction)
      if (decided !== null || transaction !== null) return
      if (clickId !== null) sought.clickIds.add(clickId)
      if (at === null) {
        const key = atLeaf(claimedAt[leaf]!, startOf(network, day))
        const cell = sought.cells.get(key) ?? sought.cells.size
        sought.cells.set(key, cell)
        const last = sought.daily.at(-1)
        if (stretch || (last && claims[last.claim]!.day > day)) sought.inDays = false
        sought.daily.push({ claim: c, cell })
      } else if (valued) append(sought.ofValue, value, c)
    },
  )
  soughtByClaims.set(claims, sought)
  return sought
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

/**
 * Matches claims that name nothing to orders of the same value near in time, the likeliest first.
 *
 * @param matches so far; those found are added
 * @param taken `takenBy`; those found are added
 * @param some claims that look by value; those that are matched already stay so
 * @param lag `usualLag`
 */
function matchByValue(
  data: Dataset,
  placements: readonly Placement[],
  matches: Match[],
  taken: readonly Uint8Array[],
  some: readonly number[],
  lag: number,
): void {
  const { claims, orders } = data
  const open = some.filter(c => matches[c]!.order < 0)
  const byValue = new Map<number, number[]>(open.map(c => [claims[c]!.value, []]))
  orders.forEach((order, i) => {
    byValue.get(order.gross)?.push(i)
    if (order.value !== order.gross) byValue.get(order.value)?.push(i)
  })
  const unit = Math.max(10 * MINUTE_MS, 3 * lag)
  const pairs: { claim: number; order: number; score: number }[] = []
  for (const c of open) {
    const claim = claims[c]!
    // Orders stand in order of time.
    const alike = byValue.get(claim.value)!
    for (let i = firstFrom(alike, o => orders[o]!.ordered_at, claim.at! - NEAR_MS); i < alike.length; i++) {
      const o = alike[i]!
      const apart = Math.abs(orders[o]!.ordered_at - claim.at!)
      if (apart > NEAR_MS) break
      pairs.push({ claim: c, order: o, score: apart + kinship(data, placements[o]!, claim) * unit })
    }
  }
  for (const { claim, order } of pairs.sort((a, b) => a.score - b.score)) {
    const own = taken[claims[claim]!.network]!
    if (matches[claim]!.order >= 0 || own[order] === 1) continue
    matches[claim] = { order, by: 'value_and_time' }
    own[order] = 1
  }
}

/** The place of the first of some, in order of what they stand for, that stands for no less than this. */
function firstFrom<T>(some: readonly T[], of: (one: T) => number, least: number): number {
  let [low, high] = [0, some.length]
  while (low < high) {
    const middle = (low + high) >>> 1
    if (of(some[middle]!) < least) low = middle + 1
    else high = middle
  }
  return low
}

/** The first day of the stretch in which a network sums a day, which is the day itself where it sums each. */
export function stretchStart(claims: readonly Claim[]): (network: number, day: Day) => Day {
  const starts = new Map<number, Day>()
  for (const { network, stretch } of claims)
    if (stretch && !starts.has(atLeaf(network, stretch.from)))
      for (let day = stretch.from; day <= stretch.to; day++)
        starts.set(atLeaf(network, day), starts.get(atLeaf(network, day)) ?? stretch.from)
  return starts.size === 0 ? (_, day) => day : (network, day) => starts.get(atLeaf(network, day)) ?? day
}

/** How far apart claim and order usually are, in ms, by the claims whose order is certain. */
function usualLag(data: Dataset, matches: readonly Match[]): number {
  const lags: number[] = []
  data.claims.forEach((claim, c) => {
    const { order } = matches[c]!
    if (order >= 0 && claim.at !== null) lags.push(Math.abs(claim.at - data.orders[order]!.ordered_at))
  })
  return lags.sort((a, b) => a - b)[Math.floor(lags.length / 2)] ?? 0
}

/** 0 when our evidence names the claim's ad, 1 when nothing speaks against it, 2 when it names another. */
function kinship(data: Dataset, placement: Placement, claim: Claim): number {
  if (placement.credits.length === 0) return 1
  if (placement.credits.some(c => c.leaf === claim.leaf)) return 0
  return placement.credits.some(c => data.tree.networkOf[c.leaf] === claim.network) ? 1 : 2
}

/** More days than any two records lie apart. */
const DAYS = 65_536
const atLeaf = (leaf: number, day: Day): number => leaf * DAYS + day

/**
 * Gives units of daily sums to orders: first to those our evidence credits to the same ad on that day
 * (the order's day, or its click's where the network dates by click), then to unplaced orders of the day,
 * the nearest in value first.
 *
 * @param matches so far; those found are added
 * @param taken `takenBy`; those found are added
 * @param since units of sums before this day have their orders, or none, and keep them
 */
function matchByDay(
  data: Dataset,
  placements: readonly Placement[],
  matches: Match[],
  taken: readonly Uint8Array[],
  since = Number.NEGATIVE_INFINITY,
): void {
  const { claims, orders, settings, tree } = data
  const { daily, cells } = soughtBy(data)
  if (daily.length === 0) return
  const byClick = tree.networks.map(network => networkRules(settings, network).dated_by === 'click')
  const { credited, unplaced } = gatherByDay(data, placements, byClick, cells, since)
  /** 1 for orders of no ad that units before have: they are nobody else's */
  const given = new Uint8Array(orders.length)

  /** The nearest in value of some orders, the first of several alike; -1 for none. */
  const nearest = ({ network, value }: Claim, candidates: readonly number[]): number => {
    let [best, least] = [-1, Number.POSITIVE_INFINITY]
    const own = taken[network]!
    for (const o of candidates) {
      const apart = Math.abs(orders[o]!.value - value)
      if (apart >= least || own[o] === 1) continue
      best = o
      least = apart
    }
    return best
  }
  const settle = (claim: number, order: number) => {
    matches[claim] = { order, by: 'day' }
    taken[claims[claim]!.network]![order] = 1
  }

  const left: number[] = []
  for (const { claim: c, cell } of daily) {
    const claim = claims[c]!
    const { order: known } = matches[c]!
    if (known >= 0) given[known] = 1
    if (known >= 0 || claim.day < since) continue
    const order = claim.kind === 'view' ? -1 : nearest(claim, credited[cell] ?? [])
    if (order >= 0) settle(c, order)
    else left.push(c)
  }
  const freeOf = new Map(
    [...unplaced].map(([day, some]) => {
      const free = some.filter(o => given[o] === 0)
      return [day, freeByValue(free, o => orders[o]!.value)]
    }),
  )
  for (const c of left) {
    const claim = claims[c]!
    const { from, to } = claim.stretch ?? { from: claim.day, to: claim.day }
    const reach = byClick[claim.network] ? CLICK_DATED_REACH : 0
    for (let day = from; day <= to + reach; day++) {
      const order = freeOf.get(day)?.(claim.value) ?? -1
      if (order < 0) continue
      settle(c, order)
      break
    }
  }
}

/**
 * Gives away orders one by one: of those that are left the nearest to a value, of several alike the first.
 *
 * @returns with what is asked for each time: a value; -1 where none is left
 */
function freeByValue(some: readonly number[], worthOf: (order: number) => number) {
  let free: number[] | null = null
  return (value: number): number => {
    free ??= [...some].sort((a, b) => worthOf(a) - worthOf(b) || a - b)
    const above = firstFrom(free, worthOf, value)
    const below = above === 0 ? -1 : firstFrom(free, worthOf, worthOf(free[above - 1]!))
    const apart = (k: number) =>
      k < 0 || k >= free!.length ? Number.POSITIVE_INFINITY : Math.abs(worthOf(free![k]!) - value)
    const isBelow =
      apart(below) < apart(above) || (apart(below) === apart(above) && free[below]! < free[above]!)
    return free.splice(isBelow ? below : above, 1)[0] ?? -1
  }
}

/**
 * Orders by ad and day, as far as these are asked for by their numbers, and those of no ad by day.
 *
 * @param since orders of days before may be left out
 */
function gatherByDay(
  { claims, clicks, orders, settings, tree }: Dataset,
  placements: readonly Placement[],
  byClick: readonly boolean[],
  cells: ReadonlyMap<number, number>,
  since: Day,
): { credited: (number[] | undefined)[]; unplaced: Map<Day, number[]> } {
  const zones = tree.networks.map(network => networkRules(settings, network).time_zone)
  const clocks = zones.map(zoneClock)
  const asked = new Uint8Array(tree.leaves.length)
  for (const key of cells.keys()) asked[Math.floor(key / DAYS)] = 1
  const credited = new Array<number[] | undefined>(cells.size)
  const unplaced = new Map<Day, number[]>()
  const claimedAt = reportedAt(tree, claims)
  const startOf = stretchStart(claims)
  // Orders stand in order of time, and none in another zone is a day older.
  for (let o = firstFrom(orders, order => order.day, since - 1); o < orders.length; o++) {
    const { credits } = placements[o]!
    const { day, ordered_at } = orders[o]!
    if (credits.length === 0) append(unplaced, day, o)
    for (const { click, leaf } of credits) {
      const at = claimedAt[leaf]!
      if (asked[at] === 0) continue
      const network = tree.networkOf[leaf]!
      const byOrder = !byClick[network] || click < 0
      const own =
        byOrder && zones[network] === settings.time_zone
          ? day
          : clocks[network]!(byOrder ? ordered_at : clicks.at[click]!).day
      const cell = cells.get(atLeaf(at, startOf(network, own)))
      if (cell === undefined) continue
      const known = credited[cell]
      if (known) known.push(o)
      else credited[cell] = [o]
    }
  }
  return { credited, unplaced }
}
