import type { Dataset } from '../intake/dataset'
import { type Claimed, type ClaimedPart, oddsByDevice } from './claimed'
import { ownShareByBoth, ownShareByIdentity } from './ownShare'
import { sharesInTime } from './sharesInTime'
import { ofAllTime, type Tallies } from './tallies'
import { KNOWN, TAGGED, type Witnesses } from './witnesses'

/** What an untracked order's claims say of its origin is shared by half an order among the claimants. */
const SHARED = 0.5

/**
 * What the claims of all networks that list them say. Which of the claimants an untracked order is of goes by
 * the orders that we know: how often one with clicks of just these networks is credited to each, and how likely
 * those that do not claim it would have.
 *
 * @returns by number of the network; null for those that list nothing
 */
export function readLists(data: Dataset, w: Witnesses, tallies: Tallies): (Claimed | null)[] {
  const { orders, tree } = data
  const N = w.networks
  const both = tree.networks.map(() => new Float64Array(tallies.stretches))
  const trials = tree.networks.map(() => new Float64Array(tallies.stretches))
  const bothBy = tree.networks.map((): [number, number] => [0, 0])
  orders.forEach((order, o) => {
    const t = tallies.stretchOf(order.day)
    for (let n = 0; n < N; n++) {
      const touched =
        w.kind[o] === KNOWN
          ? w.touch[o * N + n]! >= 0
          : w.kind[o] === TAGGED && tree.networkOf[w.origin[o]!] === n
      if (!touched) continue
      trials[n]![t]! += 1
      if (w.claimed[o * N + n]! < 0) continue
      both[n]![t]! += 1
      if (w.kind[o] === KNOWN) bothBy[n]![w.touchDesktop[o * N + n]! as 0 | 1] += 1
      else if (w.byParameters) bothBy[n]![0] += 1
    }
  })
  const sum = (list: Float64Array) => list.reduce((a, b) => a + b, 0)
  const shares = both.map((hits, n) => (sum(hits) + 0.6) / (sum(trials[n]!) + 1))
  const inTime = both.map((hits, n) => sharesInTime(hits, trials[n]!, shares[n]!))
  const originOf = origins(
    data,
    w,
    inTime.map(({ share }) => share),
  )

  const untracked = new Float64Array(N)
  const parts = tree.networks.map((): ClaimedPart[] => [])
  orders.forEach((order, o) => {
    if (w.origin[o]! >= 0) return
    const claimants: number[] = []
    for (let n = 0; n < N; n++) if (w.claimed[o * N + n]! >= 0) claimants.push(n)
    if (claimants.length === 0) return
    const told = originOf(claimants, tallies.stretchOf(order.day))
    for (const n of claimants) {
      untracked[n]! += told.touched[n]!
      const part = told.origin[n]!
      if (order.counts)
        parts[n]!.push({ order: o, leaf: w.claimed[o * N + n]!, part, variance: part * (1 - part) })
    }
  })
  return tree.networks.map((_, n): Claimed | null => {
    if (!w.listed[n]) return null
    const own = tallies.networks[n]!
    const share = Math.min(0.98, shares[n]!)
    return {
      capture: inTime[n]!.share,
      captureVariance: inTime[n]!.variance,
      share,
      shareVariance: (share * (1 - share)) / (own.touches + 2),
      byDevice: oddsByDevice(share, bothBy[n]!, ofAllTime(own.touched)),
      own: ownShareByBoth(sum(both[n]!), untracked[n]!, 0, ownShareByIdentity(tallies, own)),
      untracked: untracked[n]!,
      untrackedVariance: 0,
      parts: parts[n]!,
      unlike: null,
      twice: null,
    }
  })
}

/** What the claims on an untracked order tell, by network: that it is credited to it, and that it has its click. */
interface Told {
  origin: Float64Array
  touched: Float64Array
}

/**
 * Learns from the orders whose clicks we know how likely each network that lists its claims claims one with a
 * click of it, and one without; reads from that where an untracked order that some of them claim came from.
 */
function origins({ orders, tree }: Dataset, w: Witnesses, capture: readonly Float64Array[]) {
  const N = w.networks
  const patterns = new Map<string, { touched: boolean[]; byOrigin: Float64Array }>()
  /** by origin and network: known orders without its click, and those of them that it claims all the same */
  const without = tree.networks.map(() => new Float64Array(N))
  const claimedWithout = tree.networks.map(() => new Float64Array(N))
  const listing = [...w.listed.keys()].filter(n => w.listed[n])
  // Who is known by parameters alone has clicked on what they name, and on what claims them.
  const known = w.byParameters ? TAGGED : KNOWN
  orders.forEach((_, o) => {
    if (w.kind[o] !== known || w.origin[o]! < 0) return
    const origin = tree.networkOf[w.origin[o]!]!
    const touched = tree.networks.map((_, n) => {
      const place = o * N + n
      return w.listed[n]! && (known === KNOWN ? w.touch[place]! >= 0 : n === origin || w.claimed[place]! >= 0)
    })
    const key = touched.map(Number).join('')
    let pattern = patterns.get(key)
    if (!pattern) patterns.set(key, (pattern = { touched, byOrigin: new Float64Array(N) }))
    pattern.byOrigin[origin]! += 1
    for (const n of listing) {
      if (touched[n]) continue
      without[origin]![n]! += 1
      if (w.claimed[o * N + n]! >= 0) claimedWithout[origin]![n]! += 1
    }
  })
  const uncalled = (origin: number, n: number) =>
    (claimedWithout[origin]![n]! + 0.01) / (without[origin]![n]! + 1)
  const remembered = new Map<string, Told>()
  return (claimants: readonly number[], stretch: number): Told => {
    const key = `${claimants.join()}@${stretch}`
    const found = remembered.get(key)
    if (found) return found
    const claims = tree.networks.map((_, n) => claimants.includes(n))
    const told: Told = { origin: new Float64Array(N), touched: new Float64Array(N) }
    let whole = 0
    const add = (touched: (n: number) => boolean, origin: number, weight: number) => {
      whole += weight
      told.origin[origin]! += weight
      for (const n of claimants) if (touched(n)) told.touched[n]! += weight
    }
    for (const { touched, byOrigin } of patterns.values())
      byOrigin.forEach((count, origin) => {
        if (count === 0) return
        const likely = listing.reduce((product, n) => {
          const share = touched[n] ? capture[n]![stretch]! : uncalled(origin, n)
          return product * (claims[n] ? share : 1 - share)
        }, count)
        add(n => touched[n]!, origin, likely)
      })
    // Half an order's worth of all claimants' clicks, credited to each alike.
    const likely = listing.reduce((product, n) => product * (claims[n] ? capture[n]![stretch]! : 1), SHARED)
    for (const n of claimants) add(() => true, n, likely / claimants.length)
    for (const list of [told.origin, told.touched])
      list.forEach((weight, n) => void (list[n] = weight / whole))
    remembered.set(key, told)
    return told
  }
}
