import type { Dataset } from '../intake/dataset'
import type { Day } from '../shared/days'
import { sharesInTime } from './sharesInTime'
import { KNOWN, OFFSITE, TAGGED, type Witnesses } from './witnesses'

/** Counts of orders by device: phones and tablets first, desktops second. */
export type ByDevice = [other: number, desktop: number]

/** What the orders that we know say of each network: sums of one pass over them. */
export interface Tallies {
  stretches: number
  stretchOf: (day: Day) => number
  networks: NetworkTally[]
  /**
   * share of the site's orders that carry a visitor, null where orders are known by parameters alone; and the odds of
   * leaving no trace by stretch about their mean
   */
  identity: number | null
  orders: number
  /** whether orders say by which channel they came: those that never passed the site are out of all of this then */
  channels: boolean
  lossOdds: Float64Array
  /** orders with a visitor and no ad click in the window */
  knownElsewhere: number
  /** per leaf at which sums stand: orders with a click of it as its network's latest within the window, of any status */
  touched: Float64Array
}

export interface NetworkTally {
  /** known orders with a click of the network within its window, by stretch of the order */
  touched: ByDevice[]
  /** counting known orders that are credited to the network, by stretch */
  led: ByDevice[]
  /** orders with such a click, tagged ones included */
  touches: number
  tagged: number
  /** how many days after the click an order comes, by day */
  lag: Float64Array
  /** P(a click of network n within its window | credited to this one), by n */
  crossed: Float64Array
  /** P(credited to it | a click of it within its window), and the reverse */
  ledOfTouched: number
  touchedOfLed: number
  desktopShare: number
  /** orders credited to it, and those of them that carry a visitor */
  credited: number
  identified: number
}

/** No more stretches of time than this are told apart. */
const MOST_STRETCHES = 120

export function tallyOrders({ orders, tree }: Dataset, w: Witnesses): Tallies {
  const N = w.networks
  const length = Math.max(1, Math.ceil(w.days / MOST_STRETCHES))
  const stretches = Math.max(1, Math.ceil(w.days / length))
  const stretchOf = (day: Day) =>
    Math.min(stretches - 1, Math.max(0, Math.floor((day - w.firstDay) / length)))
  const byDevice = () => Array.from({ length: stretches }, (): ByDevice => [0, 0])
  const tallies = w.rules.map(rule => ({
    touched: byDevice(),
    led: byDevice(),
    touches: 0,
    tagged: 0,
    lag: new Float64Array(rule.click_window_days + 1),
    crossed: new Float64Array(N),
    known: 0,
    ledTouched: 0,
    knownLed: 0,
    desktops: 0,
    credited: 0,
    identified: 0,
  }))
  const touchedLeaf = new Float64Array(tree.leaves.length)
  const withVisitor = new Float64Array(stretches)
  const all = new Float64Array(stretches)
  let knownElsewhere = 0
  orders.forEach((order, o) => {
    if (w.kind[o] === OFFSITE) return
    const t = stretchOf(order.day)
    all[t]! += 1
    const kind = w.kind[o]!
    const origin = w.origin[o]!
    if (order.visitor_id !== null) {
      withVisitor[t]! += 1
      if (origin < 0) knownElsewhere += 1
    }
    const of = origin < 0 ? null : tallies[tree.networkOf[origin]!]!
    if (of) {
      of.credited += 1
      if (order.visitor_id !== null) of.identified += 1
    }
    if (kind === TAGGED && of) {
      of.touches += 1
      of.tagged += 1
      touchedLeaf[w.claimedAt[origin]!]! += 1
      if (w.byParameters) {
        of.touched[t]![0] += 1
        if (order.counts) of.led[t]![0] += 1
      }
    }
    if (kind !== KNOWN) return
    if (of) {
      of.knownLed += 1
      if (order.counts) of.led[t]![w.desktop[o] as 0 | 1] += 1
      if (w.touch[o * N + tree.networkOf[origin]!]! >= 0) of.ledTouched += 1
    }
    for (let n = 0; n < N; n++) {
      const leaf = w.touch[o * N + n]!
      if (leaf < 0) continue
      const own = tallies[n]!
      const desktop = w.touchDesktop[o * N + n] as 0 | 1
      own.touched[t]![desktop] += 1
      own.touches += 1
      own.known += 1
      own.desktops += desktop
      touchedLeaf[w.claimedAt[leaf]!]! += 1
      const late = Math.min(own.lag.length - 1, Math.max(0, order.day - w.touchDay[o * N + n]!))
      own.lag[late]! += 1
      if (of) of.crossed[n]! += 1
    }
  })
  const sum = (list: Float64Array) => list.reduce((s, x) => s + x, 0)
  const ofSite = sum(all)
  const identity = w.byParameters ? null : (sum(withVisitor) + 0.5) / (ofSite + 1)
  const byTime = identity === null ? null : sharesInTime(withVisitor, all, identity).share
  const lossOddsOf = (share: number) => 1 / Math.max(0.02, share) - 1
  return {
    stretches,
    stretchOf,
    identity,
    orders: ofSite,
    channels: orders.some(order => order.channel !== null),
    lossOdds:
      byTime?.map(share => Math.min(20, lossOddsOf(share) / lossOddsOf(identity!))) ??
      new Float64Array(stretches).fill(1),
    knownElsewhere,
    touched: touchedLeaf,
    networks: tallies.map(own => {
      const lags = sum(own.lag)
      return {
        touched: own.touched,
        led: own.led,
        touches: own.touches,
        tagged: own.tagged,
        lag: own.lag.map((count, late) => (count + 0.5 * 0.5 ** (late + 1)) / (lags + 0.5)),
        crossed: own.crossed.map(count => count / (own.knownLed + 1)),
        ledOfTouched: Math.min(1, (own.ledTouched + 0.45) / (own.known + 0.5)),
        touchedOfLed: Math.min(1, (own.ledTouched + 1) / (own.knownLed + 1)),
        // Parameters say no device: all are one then.
        desktopShare: w.byParameters ? 0 : (own.desktops + 0.5) / (own.known + 1),
        credited: own.credited,
        identified: own.identified,
      }
    }),
  }
}

/** Sums of counts by device over all stretches. */
export const ofAllTime = (list: readonly ByDevice[]): ByDevice =>
  list.reduce<ByDevice>((sum, one) => [sum[0] + one[0], sum[1] + one[1]], [0, 0])
