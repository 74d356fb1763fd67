import { CONVERSION, partsOf } from '../intake/claimUnits'
import type { Dataset } from '../intake/dataset'
import { networkRules, viewsCount } from '../intake/settings'
import { DAY_MS, inPeriod, type Period } from '../shared/days'
import { allCauses, type ClaimCause, claimCauses, type GapCause, type OrderCause } from './causes'
import type { Match } from './match'
import { leadingLeaf, type Placement } from './place'
import { inWindow } from './window'

/** The fate of every claim and order in a period; `null` for those outside it. */
export interface Reconciliation {
  /** per claim */
  claims: ('matched' | ClaimCause | null)[]
  /** per order: the orders that count and fall in the period */
  orders: ('matched' | OrderCause | null)[]
  /** per order: its matched claim, -1 for none */
  claimOf: Int32Array
  /** per order: the leaf it stands under, of its matched claim or else of our evidence; -1 for none */
  leafOf: Int32Array
}

/**
 * Gives every claim and every order of a period exactly one fate (docs/computation.md, Claims and the gap).
 * Pure in its arguments; linear in orders and claims.
 */
export function reconcile(
  data: Dataset,
  placements: readonly Placement[],
  matches: readonly Match[],
  period: Period,
): Reconciliation {
  const { claims, orders, settings } = data
  const claimFates: Reconciliation['claims'] = claims.map(() => null)
  const claimOf = new Int32Array(orders.length).fill(-1)
  const counted = (o: number) => orders[o]!.counts && inPeriod(orders[o]!.day, period)
  const takesViews = data.tree.networks.map(n => viewsCount(settings, n))
  const mayMatch = (c: number) => claims[c]!.kind === 'click' || takesViews[claims[c]!.network]!

  const present = claims.flatMap((claim, c) => (inPeriod(claim.day, period) ? [c] : []))
  const repeats = findRepeats(data, matches, present, mayMatch)

  for (const c of present) {
    const order = matches[c]!.order
    if (order < 0 || repeats.has(c) || !mayMatch(c) || !counted(order)) continue
    const rival = claimOf[order]!
    if (rival < 0 || precedes(data, placements[order]!, c, rival)) claimOf[order] = c
  }
  for (const c of present) {
    const order = matches[c]!.order
    const holder = order < 0 ? -1 : claimOf[order]!
    claimFates[c] =
      claims[c]!.thousandths !== undefined
        ? 'in_part'
        : holder === c
          ? 'matched'
          : repeats.has(c)
            ? 'repeat'
            : holder >= 0
              ? claims[holder]!.network === claims[c]!.network
                ? 'repeat'
                : 'shared'
              : !mayMatch(c)
                ? 'view_only'
                : order < 0
                  ? 'no_such_order'
                  : orders[order]!.counts
                    ? 'other_day'
                    : 'does_not_count'
  }

  const windowOf = data.tree.networks.map(n => networkRules(settings, n).click_window_days * DAY_MS)
  const leafOf = new Int32Array(orders.length).fill(-1)
  const orderFates = orders.map((order, o): Reconciliation['orders'][number] => {
    const placement = placements[o]!
    leafOf[o] = claimOf[o]! >= 0 ? claims[claimOf[o]!]!.leaf : leadingLeaf(placement)
    if (!counted(o)) return null
    if (claimOf[o]! >= 0) return 'matched'
    const seen = placement.touches.some(t =>
      inWindow(data.clicks.at[t]!, order.ordered_at, windowOf[data.tree.networkOf[data.clicks.leaf[t]!]!]!),
    )
    if (seen || (placement.grade === 'tagged' && placement.touches.length === 0)) return 'not_seen'
    return placement.touches.length > 0 || placement.older >= 0 ? 'past_window' : 'no_ad_evidence'
  })
  return { claims: claimFates, orders: orderFates, claimOf, leafOf }
}

/** Whether a claim has a better right to an order than the one that holds it. */
function precedes(data: Dataset, placement: Placement, claim: number, holder: number): boolean {
  const mine = data.claims[claim]!
  const theirs = data.claims[holder]!
  const credited = placement.credits.length > 0 ? data.tree.networkOf[leadingLeaf(placement)] : -1
  if ((mine.network === credited) !== (theirs.network === credited)) return mine.network === credited
  const order = (c: typeof mine) => c.at ?? c.day * DAY_MS
  return order(mine) < order(theirs)
}

/**
 * Claims of the same network, conversion and transaction as another. Where there is no transaction ID
 * the matched order stands for it. The first that may be matched is kept, else the first.
 */
function findRepeats(
  data: Dataset,
  matches: readonly Match[],
  present: readonly number[],
  mayMatch: (claim: number) => boolean,
): Set<number> {
  /** the claim kept of each transaction, by network and conversion */
  const keptOf = new Map<string, Map<string, number>>()
  const repeats = new Set<number>()
  const at = Float64Array.from(data.claims, claim => claim.at ?? claim.day * DAY_MS)
  for (const c of [...present].sort((a, b) => at[a]! - at[b]! || a - b)) {
    const claim = data.claims[c]!
    const order = matches[c]!.order
    const transaction = claim.transaction ?? (order >= 0 ? data.orders[order]!.order_id : null)
    if (transaction === null) continue
    const slot = `${claim.network} ${claim.conversion}`
    let kept = keptOf.get(slot)
    if (!kept) keptOf.set(slot, (kept = new Map()))
    const first = kept.get(transaction)
    if (first === undefined) kept.set(transaction, c)
    else if (mayMatch(c) && !mayMatch(first)) {
      repeats.add(first)
      kept.set(transaction, c)
    } else repeats.add(c)
  }
  return repeats
}

export interface GapLine {
  cause: GapCause
  /** claims or orders; 0 for `value_differs`, which moves value alone */
  count: number
  /** minor units; for `value_differs` the orders' value less their claims' */
  value: number
  /** matched pairs whose values differ, for `value_differs` */
  pairs?: number
}

export interface Gap {
  orders: number
  ordersValue: number
  claims: number
  claimsValue: number
  matched: number
  causes: GapLine[]
}

function emptyGap(): Gap {
  const causes = allCauses.map(
    (cause): GapLine => ({ cause, count: 0, value: 0, ...(cause === 'value_differs' ? { pairs: 0 } : {}) }),
  )
  return { orders: 0, ordersValue: 0, claims: 0, claimsValue: 0, matched: 0, causes }
}

const place = Object.fromEntries(emptyGap().causes.map((line, i) => [line.cause, i])) as Record<
  GapCause,
  number
>

/**
 * Sums the fates of many scopes in one pass. In each
 * `O − C = Σ order causes − Σ claim causes` for counts, and the same plus `value_differs` for value.
 *
 * @param scopesOf the scopes that a leaf (-1 for none) belongs to
 */
export function sumGaps<Key>(
  data: Dataset,
  fates: Reconciliation,
  scopesOf: (leaf: number) => readonly Key[],
): Map<Key, Gap> {
  const gaps = new Map<Key, Gap>()
  const at = (key: Key): Gap => {
    let gap = gaps.get(key)
    if (!gap) gaps.set(key, (gap = emptyGap()))
    return gap
  }
  // Counts are thousandths until all are added, so that parts add up exactly.
  const add = (gap: Gap, cause: GapCause, value: number, count = CONVERSION) => {
    const line = gap.causes[place[cause]]!
    line.count += count
    line.value += value
  }
  fates.orders.forEach((fate, o) => {
    if (fate === null) return
    const { value } = data.orders[o]!
    for (const gap of scopesOf(fates.leafOf[o]!).map(at)) {
      gap.orders += CONVERSION
      gap.ordersValue += value
      if (fate !== 'matched') {
        add(gap, fate, value)
        continue
      }
      gap.matched += CONVERSION
      const difference = value - data.claims[fates.claimOf[o]!]!.value
      const differs = gap.causes[place.value_differs]!
      differs.value += difference
      if (difference !== 0) differs.pairs! += 1
    }
  })
  fates.claims.forEach((fate, c) => {
    const claim = data.claims[c]!
    if (fate === null) return
    for (const { leaf, thousandths, value } of partsOf(claim)) {
      for (const gap of scopesOf(leaf).map(at)) {
        gap.claims += thousandths
        gap.claimsValue += value
        if (fate !== 'matched') add(gap, fate, value, thousandths)
        else if (claim.parts) add(gap, 'in_part', value, thousandths)
      }
    }
    // Its order stands at one of the ads that were credited; over all of them nothing is left.
    if (fate === 'matched' && claim.parts)
      for (const gap of scopesOf(claim.leaf).map(at)) add(gap, 'in_part', -claim.value, -CONVERSION)
  })
  for (const gap of gaps.values()) {
    for (const name of ['orders', 'claims', 'matched'] as const) gap[name] /= CONVERSION
    for (const line of gap.causes) line.count /= CONVERSION
  }
  return gaps
}

/** As `sumGaps`, for one scope. */
export function sumGap(
  data: Dataset,
  fates: Reconciliation,
  inScope: (leaf: number) => boolean = () => true,
): Gap {
  const one = ['scope'] as const
  return sumGaps(data, fates, leaf => (inScope(leaf) ? one : [])).get('scope') ?? emptyGap()
}

/** Causes of claims that some gaps have a line for: conversions in parts only where a network credits them so. */
export const claimCausesIn = (gaps: readonly Gap[]): readonly ClaimCause[] =>
  claimCauses.filter(cause => cause !== 'in_part' || gaps.some(gap => gap.causes[place[cause]]!.count !== 0))
