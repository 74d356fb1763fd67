import type { Dataset } from '../intake/dataset'
import type { Reconciliation } from './gap'
import type { Match } from './match'

/** Orders that two networks claim. */
export interface SharedPair {
  networks: [first: number, second: number]
  orders: number
  /** what they are worth, in minor units */
  value: number
  /** how many of them by two claims that are listed; of daily sums it is only likely which orders they are */
  certain: number
}

/** Which networks claim the same orders of a period. */
export interface SharedClaims {
  pairs: SharedPair[]
  /** orders that any network claims, that several do, and how many claims are made for them */
  claimed: number
  several: number
  claims: number
}

/** Which orders of a period several networks claim, each pair of networks counted once for an order. */
export function sharedClaims(data: Dataset, matches: readonly Match[], fates: Reconciliation): SharedClaims {
  /** per order the networks that claim it, and whether the claim is listed */
  const claimants = new Map<number, Map<number, boolean>>()
  let claims = 0
  matches.forEach(({ order, by }, c) => {
    if (order < 0 || fates.orders[order] == null || fates.claims[c] == null) return
    claims += 1
    const own = claimants.get(order) ?? new Map<number, boolean>()
    const { network } = data.claims[c]!
    own.set(network, own.get(network) === true || by !== 'day')
    claimants.set(order, own)
  })
  const pairs = new Map<string, SharedPair>()
  let several = 0
  for (const [order, own] of claimants) {
    if (own.size > 1) several += 1
    const networks = [...own].sort((a, b) => a[0] - b[0])
    networks.forEach(([first, firstListed], i) => {
      for (const [second, secondListed] of networks.slice(i + 1)) {
        const key = `${first} ${second}`
        const pair = pairs.get(key) ?? { networks: [first, second], orders: 0, value: 0, certain: 0 }
        pair.orders += 1
        pair.value += data.orders[order]!.value
        if (firstListed && secondListed) pair.certain += 1
        pairs.set(key, pair)
      }
    })
  }
  return { pairs: [...pairs.values()], claimed: claimants.size, several, claims }
}
