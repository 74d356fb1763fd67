import { pathKey } from '../shared/path'
import type { Claim } from './claim'
import { CONVERSION } from './claimUnits'
import type { AdTree } from './tree'

const known = new WeakMap<readonly Claim[], Int32Array>()

/**
 * Where a network's sums speak of each leaf: at the leaf itself; at its ad set or campaign, where the network reports
 * no lower level; or at one leaf for the whole network, where it credits conversions to its ads in parts.
 *
 * @returns per leaf the leaf at which its claims stand, its own where nothing is claimed above it
 */
export function reportedAt(tree: AdTree, claims: readonly Claim[]): Int32Array {
  const before = known.get(claims)
  if (before && before.length === tree.leaves.length) return before
  const found = Int32Array.from(tree.leaves, (_, leaf) => leaf)
  const wholeNetworks = new Map<number, number>()
  const above = new Map<string, number>()
  for (const { at, network, leaf, parts, thousandths } of claims) {
    if (at !== null) continue
    if (parts || (thousandths ?? CONVERSION) < CONVERSION)
      wholeNetworks.set(network, Math.min(leaf, wholeNetworks.get(network) ?? leaf))
    const { network: id, campaign, adSet, ad } = tree.leaves[leaf]!
    if (!ad && campaign) above.set(pathKey(id, campaign, adSet), leaf)
  }
  if (wholeNetworks.size > 0 || above.size > 0)
    tree.leaves.forEach(({ network, campaign, adSet }, leaf) => {
      found[leaf] =
        wholeNetworks.get(tree.networkOf[leaf]!) ??
        above.get(pathKey(network, campaign, '')) ??
        above.get(pathKey(network, campaign, adSet)) ??
        leaf
    })
  known.set(claims, found)
  return found
}
