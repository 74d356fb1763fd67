import { type Match, stretchStart } from '../evidence/match'
import { leadingLeaf, type Placement, WHOLE } from '../evidence/place'
import { inWindow } from '../evidence/window'
import { CONVERSION } from '../intake/claimUnits'
import type { Dataset } from '../intake/dataset'
import { reportedAt } from '../intake/reportedAt'
import { type NetworkRules, networkRules } from '../intake/settings'
import { DAY_MS, type Day, zoneClock } from '../shared/days'

/** How far our own tracking knows an order: by its clicks, by parameters alone, not at all, or since it never passed the site. */
export const BLANK = 0
export const TAGGED = 1
export const KNOWN = 2
export const OFFSITE = 3

/** With fewer orders than these whose clicks are known, for each with parameters alone, the latter say what the former would. */
const FEW_KNOWN = 0.05

/** The channel of orders by the site. */
const SITE = 'web'

/** A line of a network's daily sums. */
export interface Cell {
  network: number
  leaf: number
  /** the first day that it sums, and how many: one, but where a network reports longer stretches */
  day: Day
  days: number
  clicks: number
  views: number
  /** minor units */
  value: number
}

/**
 * What our tracking and the networks' claims say of every order, in columns. Of the columns by order and
 * network, `order * networks + network` is the place.
 */
export interface Witnesses {
  networks: number
  rules: NetworkRules[]
  /** whether a network lists its claims one by one; those that do not give daily sums, or claim nothing */
  listed: boolean[]
  cells: Cell[]
  /** per leaf the leaf at which its network's sums stand */
  claimedAt: Int32Array
  /** the first day of the stretch in which a network sums a day */
  startOf: (network: number, day: Day) => Day
  /** the first day, and the number of stretches of time with their length in days */
  firstDay: Day
  days: number
  /** per order: BLANK, TAGGED, KNOWN or OFFSITE */
  kind: Uint8Array
  /** whether orders are known by their parameters alone, as in a shop's export without a click log */
  byParameters: boolean
  /** per order: the leaf that it is credited to by our own evidence, -1 for none */
  origin: Int32Array
  /** per order: whether it was by a desktop, as its clicks say */
  desktop: Uint8Array
  /** per order and network: the leaf of the latest click within the network's window, its day and device */
  touch: Int32Array
  touchDay: Int32Array
  touchDesktop: Uint8Array
  /** per order and network: the leaf of its claim by click in a list, -1 for none */
  claimed: Int32Array
  /** per leaf: counting orders that our evidence credits to it */
  certain: Float64Array
  /** per leaf: clicks that the network bills, by day since the first; and of all whose sums stand at it */
  clicks: Map<number, number>[]
  clicksAt: Map<number, number>[]
}

/** One pass over orders, claims and delivery; linear in them. */
export function witnessesOf(
  data: Dataset,
  placements: readonly Placement[],
  matches: readonly Match[],
): Witnesses {
  const { orders, claims, clicks, tree, delivery } = data
  const N = tree.networks.length
  const rules = tree.networks.map(n => networkRules(data.settings, n))
  const listed = tree.networks.map(() => false)
  const sums = new Map<number, Cell>()
  const claimed = new Int32Array(orders.length * N).fill(-1)
  const claimedAt = reportedAt(tree, claims)
  const startOf = stretchStart(claims)
  let [first, last] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY]
  const see = (day: Day) => {
    first = Math.min(first, day)
    last = Math.max(last, day)
  }
  for (const order of orders) see(order.day)
  for (const row of delivery) see(row.day)
  claims.forEach((claim, c) => {
    if (claim.at !== null) listed[claim.network] = true
    const { order } = matches[c]!
    if (claim.at !== null && order >= 0 && claim.kind === 'click') {
      const place = order * N + claim.network
      if (claimed[place]! < 0) claimed[place] = claim.leaf
    }
    if (claim.at !== null) return
    see(claim.day)
    // What is left of a day's parts is less than a conversion.
    if (claim.thousandths !== undefined && claim.thousandths * 2 < CONVERSION) return
    const leaf = claimedAt[claim.leaf]!
    const begin = startOf(claim.network, claim.day)
    see(begin)
    const key = leaf * 65_536 + begin
    const cell = sums.get(key)
    const [byClick, byView] = claim.kind === 'click' ? [1, 0] : [0, 1]
    if (!cell) {
      const { network, value, stretch } = claim
      const days = stretch ? stretch.to - stretch.from + 1 : 1
      sums.set(key, { network, leaf, day: begin, days, clicks: byClick, views: byView, value })
      return
    }
    cell.clicks += byClick
    cell.views += byView
    cell.value += claim.value
  })
  if (first > last) [first, last] = [0, 0]

  const kind = new Uint8Array(orders.length)
  const origin = new Int32Array(orders.length).fill(-1)
  const desktop = new Uint8Array(orders.length)
  const touch = new Int32Array(orders.length * N).fill(-1)
  const touchDay = new Int32Array(orders.length * N)
  const touchDesktop = new Uint8Array(orders.length * N)
  const certain = new Float64Array(tree.leaves.length)
  const clocks = rules.map(r => zoneClock(r.time_zone))
  orders.forEach((order, o) => {
    const { touches, grade, credits } = placements[o]!
    const visited = touches.length > 0 || (grade !== 'tagged' && order.visitor_id !== null)
    const offsite = order.channel !== null && order.channel !== SITE
    kind[o] = visited ? KNOWN : grade === 'tagged' ? TAGGED : offsite ? OFFSITE : BLANK
    origin[o] = leadingLeaf(placements[o]!)
    if (order.counts) for (const { leaf, share } of credits) certain[leaf]! += share / WHOLE
    for (const click of touches) {
      const leaf = clicks.leaf[click]!
      const n = tree.networkOf[leaf]!
      desktop[o] = clicks.desktop[click]!
      if (!inWindow(clicks.at[click]!, order.ordered_at, rules[n]!.click_window_days * DAY_MS)) continue
      touch[o * N + n] = leaf
      touchDay[o * N + n] = clocks[n]!(clicks.at[click]!).day
      touchDesktop[o * N + n] = clicks.desktop[click]!
    }
  })
  const count = (of: number) => kind.reduce((sum, one) => sum + (one === of ? 1 : 0), 0)
  const billedBy = (at: (leaf: number) => number) => {
    const clicksOf = tree.leaves.map(() => new Map<number, number>())
    for (const { leaf, day, clicks: billed } of delivery) {
      const own = clicksOf[at(leaf)]!
      own.set(day - first, (own.get(day - first) ?? 0) + billed)
    }
    return clicksOf
  }
  return {
    networks: N,
    rules,
    listed,
    cells: [...sums.values()],
    claimedAt,
    startOf,
    firstDay: first,
    days: last - first + 1,
    kind,
    byParameters: count(KNOWN) < FEW_KNOWN * count(TAGGED),
    origin,
    desktop,
    touch,
    touchDay,
    touchDesktop,
    claimed,
    certain,
    clicks: billedBy(leaf => leaf),
    clicksAt: billedBy(leaf => claimedAt[leaf]!),
  }
}

/**
 * How likely orders so many days behind the first of a line are among those that it sums.
 *
 * @param lag by days from click to order, where a network dates by the click; null where it dates by the order
 * @param days that the line sums
 * @param least shares up to this are left out
 */
export function delaysOver(
  lag: ArrayLike<number> | null,
  days: number,
  least = -1,
): { late: number; share: number }[] {
  const own = lag ?? [1]
  const shares = new Float64Array(own.length + days - 1)
  for (let late = 0; late < own.length; late++)
    for (let day = 0; day < days; day++) shares[late + day]! += own[late]!
  return [...shares].flatMap((share, late) => (share > least ? [{ late, share }] : []))
}
