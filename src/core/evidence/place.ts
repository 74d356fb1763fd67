import type { Clicks, Dataset, Order } from '../intake/dataset'
import { idsOnLanding, sourceOf } from '../intake/orderParameters'
import type { CreditRule } from '../intake/settings'
import { type CarriedOver, carriedOver } from '../shared/carriedOver'
import { DAY_MS } from '../shared/days'
import { split } from '../shared/money'
import { inWindow } from './window'

/** Credits are counted in millionths, so that those of one order sum to one exactly. */
export const WHOLE = 1_000_000
const HALF_LIFE_MS = 7 * DAY_MS

export interface Credit {
  /** click number, -1 where only parameters speak */
  click: number
  leaf: number
  /** millionths */
  share: number
}

/** One order as our own evidence sees it: who may have brought it and how we know. */
export interface Placement {
  grade: 'proven' | 'tagged' | 'unplaced'
  by: 'click_id' | 'visitor_id' | 'customer' | 'network_click_id' | 'parameters' | null
  credits: Credit[]
  /** ad clicks in the window, earliest first */
  touches: number[]
  /** the latest ad click that is too old to count, -1 for none */
  older: number
}

/** The clicks of each visitor in order of time, as slices of one array. */
function byVisitor(clicks: Clicks, visitors: number) {
  const start = new Int32Array(visitors + 1)
  for (const v of clicks.visitor) if (v >= 0) start[v + 1]!++
  for (let v = 0; v < visitors; v++) start[v + 1]! += start[v]!
  const next = start.slice()
  const order = new Int32Array(start[visitors] ?? 0)
  for (let c = 0; c < clicks.count; c++) {
    const v = clicks.visitor[c]!
    if (v >= 0) order[next[v]!++] = c
  }
  return (visitor: number): Int32Array => order.subarray(start[visitor], start[visitor + 1])
}

/** Sources on unplaced orders that nobody has said the network of, each with its orders, most first. */
export function unknownSources(
  { orders, settings }: Dataset,
  placements: readonly Placement[],
): { source: string; orders: number }[] {
  const counts = new Map<string, number>()
  orders.forEach((order, o) => {
    const source = placements[o]!.grade === 'unplaced' && sourceOf(order)?.toLowerCase()
    if (source && !(source in settings.source_names)) counts.set(source, (counts.get(source) ?? 0) + 1)
  })
  return [...counts]
    .map(([source, count]) => ({ source, orders: count }))
    .sort((a, b) => b.orders - a.orders || a.source.localeCompare(b.source))
}

/** Placements with the dataset that they are of. */
export interface Placed {
  data: Dataset
  placements: Placement[]
  /** a number for each customer; it grows, and none changes */
  customers: Map<string, number>
  /** per order, -1 where it names none */
  customerOf: Int32Array
}

/**
 * Places every order: by its click ID, its visitor, the customer's earlier visitor,
 * then the parameters it carries. A click after the order never counts; the window is half-open:
 * `clicked_at ≤ ordered_at < clicked_at + window`.
 *
 * @returns one placement per order of the dataset, in its order
 */
export const placeOrders = (data: Dataset): Placement[] => placeUpon(null, data).placements

/** As `placeOrders`; an order that stands as it stood before, with all that may have brought it, is not looked at again. */
export function placeUpon(before: Placed | null, data: Dataset): Placed {
  const { orders } = data
  // The same tree is that of the same rules.
  const same = before?.data.tree === data.tree
  const numbers = before?.customers ?? new Map<string, number>()
  const over = same ? carriedOver(before.data.orders, orders, order => order.ordered_at) : null
  const customerOf = Int32Array.from(orders, (order, o) => {
    if (over && over.from[o]! >= 0) return before!.customerOf[over.from[o]!]!
    return order.customer_id === null ? -1 : numberOf(numbers, order.customer_id)
  })
  const standing = over ? standingOrders(before!, data, over) : []
  // What one order of a customer tells, its others rest on.
  const touched = new Set(over?.gone.map(o => before!.customerOf[o]!))
  orders.forEach((_, o) => {
    if (!standing[o]) touched.add(customerOf[o]!)
  })
  touched.delete(-1)
  const place = placer(data)
  const placements = orders.map((order, o) => (!touched.has(customerOf[o]!) && standing[o]) || place(order))
  return { data, placements, customers: numbers, customerOf }
}

const numberOf = (numbers: Map<string, number>, id: string): number => {
  const known = numbers.get(id)
  if (known === undefined) numbers.set(id, numbers.size)
  return known ?? numbers.size - 1
}

/** Per order its placement as it was, as far as its clicks are what they were. */
function standingOrders(
  { data: was, placements }: Placed,
  { clicks, orders }: Dataset,
  { from }: CarriedOver,
): (Placement | null)[] {
  const before = (o: number) => (from[o]! < 0 ? null : placements[from[o]!]!)
  if (clicks === was.clicks) return orders.map((_, o) => before(o))
  const firstNew = firstDifference(was.clicks, clicks)
  const touched = clicksTouched(clicks, firstNew)
  const isTouched = (order: Order): boolean =>
    (order.visitor_id !== null && touched.visitors.has(order.visitor_id)) ||
    (order.click_id !== null && touched.ids.has(order.click_id)) ||
    landingIds(order).some(id => touched.ids.has(id))
  return orders.map((order, o) => {
    const placement = before(o)
    return placement && restsBelow(placement, firstNew) && !isTouched(order) ? placement : null
  })
}

/** The IDs and visitors of clicks from a number on, and all IDs of those visitors' clicks. */
function clicksTouched(clicks: Clicks, from: number) {
  const numbers = new Set(clicks.visitor.subarray(from))
  numbers.delete(-1)
  const ids = new Set<string>()
  for (let c = 0; c < clicks.count; c++) {
    if (c < from && !numbers.has(clicks.visitor[c]!)) continue
    ids.add(clicks.ids[c]!)
    const theirs = clicks.networkClickIds[c]
    if (theirs) ids.add(theirs)
  }
  const visitors = new Set<string>()
  if (numbers.size > 0) for (const [id, number] of clicks.visitors) if (numbers.has(number)) visitors.add(id)
  return { ids, visitors }
}

/** Whether all clicks that a placement rests on have lower numbers. */
const restsBelow = ({ touches, older }: Placement, click: number): boolean =>
  older < click && touches.every(t => t < click)

/** The number of the first click that is not what it was, or that there was not. */
function firstDifference(before: Clicks, after: Clicks): number {
  const most = Math.min(before.count, after.count)
  const alike = visitorsAlike(before, after)
  for (let c = 0; c < most; c++)
    if (
      before.ids[c] !== after.ids[c] ||
      before.at[c] !== after.at[c] ||
      before.leaf[c] !== after.leaf[c] ||
      before.visitor[c] !== after.visitor[c] ||
      before.visitor[c]! >= alike ||
      before.networkClickIds[c] !== after.networkClickIds[c]
    )
      return c
  return most
}

/** How many visitors have the same numbers, from the first on: numbers stand in the order of the map. */
function visitorsAlike(before: Clicks, after: Clicks): number {
  const others = after.visitors.keys()
  let alike = 0
  for (const id of before.visitors.keys()) {
    if (others.next().value !== id) break
    alike += 1
  }
  return alike
}

/** What of an order's landing address may be a click ID; read once. */
const landingIdsOf = new WeakMap<Order, string[]>()
function landingIds(order: Order): string[] {
  let ids = landingIdsOf.get(order)
  if (!ids) landingIdsOf.set(order, (ids = idsOnLanding(order)))
  return ids
}

/** Places single orders of a dataset, those of a customer all of them and in order of time. */
function placer({ clicks, settings }: Dataset) {
  const windowMs = settings.click_window_days * DAY_MS
  let byNetworkId: Map<string, number> | undefined
  const clickOfNetwork = (id: string) => {
    if (!byNetworkId) {
      byNetworkId = new Map()
      for (let c = 0; c < clicks.count; c++) {
        const theirs = clicks.networkClickIds[c]
        if (theirs) byNetworkId.set(theirs, c)
      }
    }
    return byNetworkId.get(id)
  }
  const visitorsOfCustomer = new Map<string, number[]>()
  const clicksOf = byVisitor(clicks, clicks.visitors.size)

  const within = (click: number, at: number) => inWindow(clicks.at[click]!, at, windowMs)
  /** Touches of some visitors at an instant: those in the window, and the latest one before it. */
  const touchesOf = (visitors: readonly number[], at: number) => {
    const touches: number[] = []
    let older = -1
    for (const visitor of visitors)
      for (const click of clicksOf(visitor)) {
        // Clicks are numbered in order of time.
        if (clicks.at[click]! > at) break
        if (within(click, at)) touches.push(click)
        else older = Math.max(older, click)
      }
    if (visitors.length > 1) touches.sort((a, b) => a - b)
    return { touches, older }
  }
  const placed = (
    grade: Placement['grade'],
    by: Placement['by'],
    touches: number[],
    older: number,
    last: number,
    at: number,
  ): Placement => ({
    grade,
    by,
    touches,
    older,
    credits: creditTouches(touches, last, at, clicks, settings.credit),
  })

  return (order: Order): Placement => {
    const at = order.ordered_at
    const visitor = order.visitor_id === null ? -1 : (clicks.visitors.get(order.visitor_id) ?? -1)
    let older = -1
    const own = order.click_id === null ? undefined : clicks.numberOf.get(order.click_id)
    const visitorsHere = visitor >= 0 ? [visitor] : []
    const earlier = order.customer_id === null ? [] : (visitorsOfCustomer.get(order.customer_id) ?? [])
    if (order.customer_id !== null && visitor >= 0 && !earlier.includes(visitor))
      visitorsOfCustomer.set(order.customer_id, [...earlier, visitor])

    if (own !== undefined) {
      const same = clicks.visitor[own]!
      const found = touchesOf(same < 0 || same === visitor ? visitorsHere : [same, ...visitorsHere], at)
      if (within(own, at)) {
        const touches = found.touches.includes(own)
          ? found.touches
          : [...found.touches, own].sort((a, b) => a - b)
        return placed('proven', 'click_id', touches, found.older, own, at)
      }
      if (clicks.at[own]! <= at) older = own
    }
    for (const [by, visitors] of [
      ['visitor_id', visitorsHere],
      ['customer', earlier],
    ] as const) {
      if (visitors.length === 0) continue
      const found = touchesOf(visitors, at)
      older = Math.max(older, found.older)
      const last = found.touches.at(-1)
      if (last !== undefined) return placed('proven', by, found.touches, found.older, last, at)
    }
    for (const value of landingIds(order)) {
      const click = clickOfNetwork(value) ?? clicks.numberOf.get(value)
      if (click === undefined) continue
      if (within(click, at)) return placed('tagged', 'network_click_id', [click], older, click, at)
      if (clicks.at[click]! <= at) older = Math.max(older, click)
    }
    // An older click of the same ad explains the parameters: the order came too late to count.
    if (order.named >= 0 && !(older >= 0 && order.click_id !== null)) {
      return {
        grade: 'tagged',
        by: 'parameters',
        touches: [],
        older,
        credits: [{ click: -1, leaf: order.named, share: WHOLE }],
      }
    }
    return { grade: 'unplaced', by: null, touches: [], older, credits: [] }
  }
}

/**
 * Shares one order among its touches by a credit rule; the shares sum to one exactly.
 *
 * @param touches ad clicks in the window, earliest first
 * @param last the click that last-click credit goes to
 */
export function creditTouches(
  touches: readonly number[],
  last: number,
  at: number,
  clicks: Clicks,
  rule: CreditRule,
): Credit[] {
  if (rule === 'last_click') return [{ click: last, leaf: clicks.leaf[last]!, share: WHOLE }]
  const weight: Record<Exclude<CreditRule, 'last_click'>, (click: number, index: number) => number> = {
    first_click: (_, index) => (index === 0 ? 1 : 0),
    even: () => 1,
    time_decay: click => 2 ** (-(at - clicks.at[click]!) / HALF_LIFE_MS),
  }
  const shares = split(WHOLE, touches.map(weight[rule]))
  return touches
    .map((click, i) => ({ click, leaf: clicks.leaf[click]!, share: shares[i]! }))
    .filter(credit => credit.share > 0)
}

/** The leaf with the largest share of an order's credit, -1 where it has none. */
export function leadingLeaf(placement: Placement): number {
  let best = -1
  let share = 0
  for (const credit of placement.credits)
    if (credit.share > share) {
      best = credit.leaf
      share = credit.share
    }
  return best
}
