import type { Dataset } from '../intake/dataset'
import { append } from '../shared/append'
import type { ClaimedPart } from './claimed'
import { ratePriors } from './rates'
import type { Witnesses } from './witnesses'

/**
 * Deals orders that are claimed of a whole campaign, ad set or network out to its ads: by what is tracked of each,
 * drawn toward their clicks (gamma–Poisson); what a network credits to an ad in parts is no order of it. Ads then differ by chance, and by how
 * doubtful their shares are.
 *
 * @param parts each at the leaf at which its network's sums stand
 * @returns the same orders, each at ads
 */
export function dealtOut(data: Dataset, w: Witnesses, parts: readonly ClaimedPart[]): ClaimedPart[] {
  const groups = new Map<number, number[]>()
  w.claimedAt.forEach((at, leaf) => {
    if (at !== leaf || groups.has(at)) append(groups, at, leaf)
  })
  for (const [at, leaves] of groups) if (!leaves.includes(at)) leaves.push(at)
  if (groups.size === 0) return [...parts]
  const amounts = new Map<number, number>()
  for (const { leaf, part } of parts) amounts.set(leaf, (amounts.get(leaf) ?? 0) + part)
  const sharesOf = new Map([...groups].map(([at, leaves]) => [at, sharesAmong(data, w, leaves, w.certain)]))
  return parts.flatMap((one): ClaimedPart[] => {
    const shares = sharesOf.get(one.leaf)
    if (!shares) return [one]
    const { leaves, share, seen } = shares
    const spread = 1 + amounts.get(one.leaf)! / (seen + 1)
    return leaves.flatMap((leaf, i) => {
      const own = share[i]!
      if (own === 0) return []
      const variance = own ** 2 * one.variance + one.part * own * (1 - own) * spread
      return [{ order: one.order, leaf, part: one.part * own, variance }]
    })
  })
}

/** What each of some ads is expected to have of what is claimed of all of them. */
function sharesAmong(
  { tree }: Dataset,
  w: Witnesses,
  leaves: readonly number[],
  seen: Float64Array,
): { leaves: readonly number[]; share: number[]; seen: number } {
  const clicks = new Float64Array(seen.length)
  for (const leaf of leaves) for (const billed of w.clicks[leaf]!.values()) clicks[leaf]! += billed
  const priors = ratePriors(tree, leaves, seen, clicks)
  const wanted = leaves.map((leaf, i) => {
    const prior = priors[i]
    return prior
      ? (clicks[leaf]! * (seen[leaf]! + prior.shape)) / (clicks[leaf]! + prior.shape / prior.rate)
      : seen[leaf]!
  })
  const whole = wanted.reduce((sum, one) => sum + one, 0)
  return {
    leaves,
    share: wanted.map((one, i) => (whole > 0 ? one / whole : i === 0 ? 1 : 0)),
    seen: leaves.reduce((sum, leaf) => sum + seen[leaf]!, 0),
  }
}
