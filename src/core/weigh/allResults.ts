import type { Doubts, Estimate, Share } from '../estimate/estimate'
import type { Match } from '../evidence/match'
import type { Placement } from '../evidence/place'
import type { Claim } from '../intake/claim'
import type { Dataset, Order } from '../intake/dataset'
import { ALL_RESULTS, JUDGED_RESULT } from '../intake/judgedResult'
import { treeBuilder } from '../intake/tree'
import { pathKey } from '../shared/path'
import { leadOfOrders } from '../signals/laterWorth'
import { capturesIn } from './captures'
import { type Evidence, evidenceFrom } from './evidence'

/** The part of a leaf under which it says whose results stand there. */
const RESULT_PART = 'result'
/** The result of a leaf of `allResults`; null for one that holds spend alone, or that is of one result anyway. */
export const resultOfLeaf = (leaf: { parts?: Readonly<Record<string, string>> }): string | null =>
  leaf.parts?.[RESULT_PART] ?? null

/** What one result brings into the whole, and where its rows stand in it. */
interface Part {
  evidence: Evidence
  /** by number of its leaf: of the ad, and of the ad's part for this result */
  adOf: number[]
  leafOf: number[]
  networkOf: number[]
  /** by number of its order and claim, in the whole; -1 for a claim that is another result's */
  orderOf: number[]
  claimOf: number[]
}

/**
 * The evidence of several results as one: each ad parted by them (`resultOfLeaf`), so that whatever sums, opens and
 * judges one result does so of all. Spend stands at the ad itself, each result is worth and leaves what its own
 * definition says. None counts twice: of two results with one transaction the first stands, an order that
 * came of a lead whose worth was measured by such orders stands in that lead, and claims of one name are the first's
 * that claims them.
 *
 * @param parts at least two, gathered from the same records; the shop's orders first
 */
export function allResults(parts: readonly Evidence[]): Evidence {
  const builder = treeBuilder()
  const { tree, leaf, network } = builder
  const [first] = parts
  for (const { data } of parts) {
    for (const name of data.tree.networks) network(name)
    for (const own of data.tree.leaves) leaf(own.network, own.campaign, own.adSet, own.ad)
    for (const [key, names] of data.tree.names) if (!tree.names.has(key)) tree.names.set(key, names)
  }
  const ads = tree.leaves.length
  const partsOf = Array.from({ length: ads }, (_, ad) => [ad])
  const groupOf = [...tree.networkOf]
  const placed = parts.map((evidence, number): Part => {
    const { data } = evidence
    const partOfAd = new Map<number, number>()
    const adOf = data.tree.leaves.map(own => leaf(own.network, own.campaign, own.adSet, own.ad))
    const leafOf = adOf.map(ad => {
      const known = partOfAd.get(ad)
      if (known !== undefined) return known
      const whole = tree.leaves[ad]!
      const own = tree.leaves.push({ ...whole, parts: { ...whole.parts, [RESULT_PART]: data.result } }) - 1
      tree.networkOf.push(tree.networkOf[ad]!)
      groupOf.push(number * tree.networks.length + tree.networkOf[ad]!)
      partsOf[ad]!.push(own)
      partOfAd.set(ad, own)
      return own
    })
    return {
      evidence,
      adOf,
      leafOf,
      networkOf: data.tree.networks.map(network),
      orderOf: [],
      claimOf: [],
    }
  })

  const orders = ordersOfAll(placed)
  const claims = claimsOfAll(placed)
  const placements: Placement[] = []
  const matches: Match[] = claims.map(() => ({ order: -1, by: null }))
  for (const { evidence, leafOf, orderOf, claimOf } of placed) {
    evidence.placements.forEach((placement, o) => {
      placements[orderOf[o]!] = {
        ...placement,
        credits: placement.credits.map(credit => ({ ...credit, leaf: leafOf[credit.leaf]! })),
      }
    })
    evidence.matches.forEach(({ order, by }, c) => {
      if (claimOf[c]! >= 0 && order >= 0) matches[claimOf[c]!] = { order: orderOf[order]!, by }
    })
  }

  const [{ adOf }] = placed as [Part]
  const { data: lead } = first!
  const { target_cost: _, ...settings } = lead.settings
  const data: Dataset = {
    ...lead,
    settings,
    result: ALL_RESULTS,
    countedBy: new Map(
      parts.map(({ data: { result, settings, worthDoubt } }) => [result, { settings, worthDoubt }]),
    ),
    worthDoubt: 0,
    tree: { ...tree, partsOf },
    clicks: { ...lead.clicks, leaf: lead.clicks.leaf.map(own => adOf[own] ?? own) },
    orders,
    claims,
    delivery: lead.delivery.map(row => ({ ...row, leaf: adOf[row.leaf]! })),
    otherResults: new Map(),
    unconfirmed: parts.flatMap(({ data }) => data.unconfirmed),
  }
  const made: Evidence = evidenceFrom(
    data,
    placements,
    matches,
    () => estimateOfAll(placed, data, groupOf, () => made),
    () => null,
    new Map(parts.map(part => [part.data.result, part])),
  )
  return made
}

/** Orders of all results in order of time; those that another result stands for do not count. */
function ordersOfAll(placed: readonly Part[]): Order[] {
  const transactions = new Set<string>()
  const inLeads = ordersInLeads(placed)
  const all = placed.flatMap((part, number) =>
    part.evidence.data.orders.map((order, own) => {
      const again = order.counts && transactions.has(order.order_id)
      if (order.counts) transactions.add(order.order_id)
      const left = again
        ? ('same_transaction' as const)
        : order.counts && inLeads.has(order)
          ? ('in_its_lead' as const)
          : order.left
      const named = order.named < 0 ? order.named : part.adOf[order.named]!
      return { part: number, own, order: { ...order, named, counts: order.counts && left === null, left } }
    }),
  )
  all.sort((a, b) => a.order.ordered_at - b.order.ordered_at)
  all.forEach(({ part, own }, at) => void (placed[part]!.orderOf[own] = at))
  return all.map(({ order }) => order)
}

/** Orders that came of a lead whose worth was measured by what leads later bought. */
function ordersInLeads(placed: readonly Part[]): ReadonlySet<Order> {
  const found = new Set<Order>()
  const shop = placed.find(({ evidence }) => evidence.data.result === JUDGED_RESULT)?.evidence.data.orders
  if (!shop) return found
  const counted = shop.filter(order => order.counts)
  for (const { evidence } of placed) {
    const { measuredDays, orders } = evidence.data
    if (measuredDays === null || evidence.data.result === JUDGED_RESULT) continue
    const leads = orders
      .filter(order => order.counts)
      .map(({ visitor_id, ordered_at }) => ({ visitor: visitor_id, at: ordered_at }))
    const bought = counted.map(({ visitor_id, customer_id, ordered_at }) => ({
      visitor: visitor_id,
      customer: customer_id,
      at: ordered_at,
    }))
    leadOfOrders(leads, bought, measuredDays).forEach((lead, o) => {
      if (lead >= 0) found.add(counted[o]!)
    })
  }
  return found
}

/** Claims of all results; what a network calls several of ours stands under the first. */
function claimsOfAll(placed: readonly Part[]): Claim[] {
  const claims: Claim[] = []
  const claimedBy = new Map<string, number>()
  placed.forEach(({ evidence, claimOf, networkOf, leafOf }, number) => {
    evidence.data.claims.forEach((claim, c) => {
      const own = networkOf[claim.network]!
      const name = pathKey(String(own), claim.conversion)
      if (!claimedBy.has(name)) claimedBy.set(name, number)
      claimOf[c] =
        claimedBy.get(name) === number
          ? claims.push({
              ...claim,
              network: own,
              leaf: leafOf[claim.leaf]!,
              ...(claim.parts && {
                parts: claim.parts.map(part => ({ ...part, leaf: leafOf[part.leaf]! })),
              }),
            }) - 1
          : -1
    })
  })
  return claims
}

/** The estimates of all results beside each other: they err apart from each other. */
function estimateOfAll(
  placed: readonly Part[],
  { orders, tree }: Dataset,
  groupOf: number[],
  whole: () => Evidence,
): Estimate {
  const shares: Share[] = []
  const claimedPart = new Float64Array(orders.length)
  const empty = () => new Float64Array(tree.leaves.length)
  const doubts: Doubts = {
    unseen: [],
    network: [],
    own: [],
    uneven: [],
    blocking: [],
    weight: empty().fill(0.5),
    ambiguity: empty(),
    groupOf,
  }
  placed.forEach(({ evidence: { estimate }, leafOf, orderOf, networkOf }, number) => {
    for (const share of estimate.shares) {
      const order = orderOf[share.order]!
      if (orders[order]!.counts) shares.push({ ...share, order, leaf: leafOf[share.leaf]! })
    }
    estimate.claimedPart.forEach((part, o) => void (claimedPart[orderOf[o]!] = part))
    for (const name of ['unseen', 'network', 'own', 'uneven', 'blocking'] as const) {
      const at = number * tree.networks.length
      for (let n = 0; n < tree.networks.length; n++) doubts[name][at + n] = 0
      estimate.doubts[name].forEach((doubt, n) => void (doubts[name][at + networkOf[n]!] = doubt))
    }
    leafOf.forEach((leaf, own) => {
      doubts.weight[leaf] = estimate.doubts.weight[own]!
      doubts.ambiguity[leaf] = estimate.doubts.ambiguity[own]!
    })
  })
  const [{ evidence, networkOf }] = placed as [Part]
  let captures: Estimate['captures'] | undefined
  return {
    shares,
    claimedPart,
    doubts,
    findings: placed.flatMap(part => part.evidence.estimate.findings),
    get captures() {
      return (captures ??= capturesIn(whole(), {
        from: Number.NEGATIVE_INFINITY,
        to: Number.POSITIVE_INFINITY,
      }).map((capture, network) => ({
        network,
        ...capture,
        orders: shares.reduce(
          (sum, { leaf, seen, unseen }) => (tree.networkOf[leaf] === network ? sum + seen + unseen : sum),
          0,
        ),
      })))
    },
    captureOn: (network, from, to) => {
      const own = networkOf.indexOf(network)
      return own < 0 ? 0 : evidence.estimate.captureOn(own, from, to)
    },
  }
}
