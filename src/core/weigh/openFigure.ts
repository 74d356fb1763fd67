import { claimingNetworks } from '../estimate/estimate'
import { allCauses, causes, type GapCause } from '../evidence/causes'
import { type Reconciliation, reconcile } from '../evidence/gap'
import { type Placement, WHOLE } from '../evidence/place'
import type { Claim } from '../intake/claim'
import { CONVERSION, partsOf } from '../intake/claimUnits'
import { inPeriod, type Period } from '../shared/days'
import { billedPeriods } from './billed'
import { trackedTo } from './captures'
import { valueParts } from './credits'
import type { Evidence } from './evidence'
import { costOf, ratio } from './figures'
import { type Days, wholeByLeaf } from './leafSums'
import type { Figure } from './openings'
import { inScope, type Scope } from './scope'

/** One order behind a figure. */
export interface OpenedOrder {
  /** number of the order in the dataset */
  order: number
  /** how much of it is in the figure, 0–1 */
  part: number
  /** what an estimate adds for orders like it that neither witness saw */
  added: number
  /** what it adds to the figure's worth, in minor units; not whole for estimates */
  worth: number
}

/** One day of delivery behind a figure; spend in minor units. */
export interface OpenedDay {
  day: number
  spend: number
  impressions: number
  clicks: number
  /** ad clicks of that day that arrived and count */
  seen: number
}

export interface OpenedFigure {
  /** the figure, worked out from the lists; money in minor units, null where there is nothing to divide by */
  amount: number | null
  /** what its orders or claims are worth; for `value_differs` by how much */
  worth: number
  /** in order of time */
  orders: OpenedOrder[]
  /** numbers of claims in the dataset, in order of time */
  claims: number[]
  days: OpenedDay[]
}

/** Ad clicks that arrived and count, of one ad and day. */
export interface SeenClicks {
  leaf: number
  day: number
  clicks: number
}

interface Asked {
  evidence: Evidence
  seen: readonly SeenClicks[]
  fates: Reconciliation
  period: Period
  scope: Scope
  within: (leaf: number) => boolean
  /** the days of the period that count of a leaf */
  daysOf: (leaf: number) => Period
}

const nothing: OpenedFigure = { amount: 0, worth: 0, orders: [], claims: [], days: [] }

/**
 * What stands behind one figure of a scope and period.
 *
 * @param seen the clicks that arrived, for figures that open days
 */
export function openFigure(
  evidence: Evidence,
  figure: Figure,
  scope: Scope,
  period: Period,
  seen: readonly SeenClicks[] = [],
  days: Days = 'all',
): OpenedFigure {
  const { data, placements, matches } = evidence
  const asked: Asked = {
    evidence,
    seen,
    fates: reconcile(data, placements, matches, period),
    period,
    scope,
    within: leaf => inScope(data.tree.leaves[leaf], scope),
    daysOf: days === 'billed' ? billedPeriods(data, period) : () => period,
  }
  return openers[figure](asked)
}

type Opener = (asked: Asked) => OpenedFigure

const openers: Record<Figure, Opener> = {
  orders: asked => ordersOfFate(asked, () => true),
  claims: asked => claimsOfFate(asked, () => true),
  matched: asked => pairs(asked, () => true),
  proven: asked => credited(asked, ['proven']),
  tagged: asked => credited(asked, ['tagged']),
  tracked: asked => credited(asked, ['proven', 'tagged']),
  estimated,
  spend: asked => delivered(asked, 'spend'),
  impressions: asked => delivered(asked, 'impressions'),
  clicks: asked => delivered(asked, 'clicks'),
  clicks_seen: asked => delivered(asked, 'seen'),
  cost_claimed: asked => costFor(asked, openers.claims(asked)),
  cost_tracked: asked => costFor(asked, openers.tracked(asked)),
  cost: asked => costFor(asked, openers.estimated(asked)),
  roas: asked => {
    const orders = openers.estimated(asked)
    const spend = openers.spend(asked)
    return { ...orders, days: spend.days, amount: ratio(orders.worth, spend.amount ?? 0) }
  },
  network_capture: networkCapture,
  own_capture: ownCapture,
  ...(Object.fromEntries(allCauses.map(cause => [cause, openerOfCause(cause)])) as Record<GapCause, Opener>),
}

function openerOfCause(cause: GapCause): Opener {
  const { side } = causes[cause]
  if (side === 'order') return asked => ordersOfFate(asked, fate => fate === cause)
  if (cause === 'in_part') return claimsInPart
  if (side === 'claim') return asked => claimsOfFate(asked, fate => fate === cause)
  return asked => pairs(asked, (order, claim) => order !== claim)
}

function costFor(asked: Asked, results: OpenedFigure): OpenedFigure {
  const { days } = openers.spend(asked)
  const sum = (pick: 'spend' | 'impressions' | 'clicks') => days.reduce((all, day) => all + day[pick], 0)
  const delivery = { spend: sum('spend'), impressions: sum('impressions'), clicks: sum('clicks') }
  return { ...results, days, amount: costOf(delivery, results.amount ?? 0) }
}

function ordersOfFate(
  { evidence: { data }, fates, within }: Asked,
  match: (fate: NonNullable<Reconciliation['orders'][number]>) => boolean,
): OpenedFigure {
  const orders = data.orders.flatMap(({ value }, order) => {
    const fate = fates.orders[order]
    return fate && within(fates.leafOf[order]!) && match(fate)
      ? [{ order, part: 1, added: 0, worth: value }]
      : []
  })
  return { ...nothing, orders, amount: orders.length, worth: worthOf(orders) }
}

function claimsOfFate(asked: Asked, match: (fate: ClaimFate) => boolean): OpenedFigure {
  return claimsWith(asked, (claim, fate) => (match(fate) ? withinOf(asked, claim) : NOT_OPENED))
}

/** What ads have of conversions that were credited in parts, less those that stand at them as whole ones. */
function claimsInPart(asked: Asked): OpenedFigure {
  return claimsWith(asked, (claim, fate) => {
    const own = withinOf(asked, claim)
    if (fate === 'in_part') return own
    if (fate !== 'matched' || !claim.parts) return NOT_OPENED
    const stands = asked.within(claim.leaf) ? 1 : 0
    return { count: own.count - stands, worth: own.worth - stands * claim.value }
  })
}

type ClaimFate = NonNullable<Reconciliation['claims'][number]>
const NOT_OPENED = { count: 0, worth: 0 }

/** How many conversions of a claim, and what they are worth, are the asked ads'. */
function withinOf({ within, daysOf }: Asked, claim: Claim): { count: number; worth: number } {
  const own = partsOf(claim).filter(({ leaf }) => within(leaf) && inPeriod(claim.day, daysOf(leaf)))
  return {
    count: own.reduce((sum, part) => sum + part.thousandths, 0) / CONVERSION,
    worth: own.reduce((sum, part) => sum + part.value, 0),
  }
}

function claimsWith(
  { evidence: { data }, fates }: Asked,
  openedOf: (claim: Claim, fate: ClaimFate) => { count: number; worth: number },
): OpenedFigure {
  const claims: number[] = []
  let [amount, worth] = [0, 0]
  data.claims.forEach((claim, c) => {
    const fate = fates.claims[c]
    if (!fate) return
    const opened = openedOf(claim, fate)
    if (opened.count === 0 && opened.worth === 0) return
    claims.push(c)
    amount += opened.count
    worth += opened.worth
  })
  return { ...nothing, claims, amount, worth }
}

/** Orders with their claims, by what each side says that they are worth; their worth is the difference. */
function pairs(asked: Asked, match: (orderValue: number, claimValue: number) => boolean): OpenedFigure {
  const { evidence, fates } = asked
  const { data } = evidence
  const claimOf = (order: number) => data.claims[fates.claimOf[order]!]!
  const both = ordersOfFate(asked, fate => fate === 'matched').orders.filter(({ order }) =>
    match(data.orders[order]!.value, claimOf(order).value),
  )
  const orders = both.map(one => ({ ...one, worth: one.worth - claimOf(one.order).value }))
  const claims = both.map(({ order }) => fates.claimOf[order]!)
  return { ...nothing, orders, claims, amount: orders.length, worth: worthOf(orders) }
}

const worthOf = (orders: readonly OpenedOrder[]) => orders.reduce((sum, one) => sum + one.worth, 0)

function credited(
  { evidence: { data, placements }, period, within, daysOf }: Asked,
  grades: readonly Placement['grade'][],
): OpenedFigure {
  let millionths = 0
  const orders = data.orders.flatMap((order, o) => {
    const { grade, credits } = placements[o]!
    if (!order.counts || !inPeriod(order.day, period) || !grades.includes(grade)) return []
    const values = valueParts(order.value, credits)
    const own = credits.flatMap(({ leaf, share }, i) =>
      within(leaf) && inPeriod(order.day, daysOf(leaf)) ? [{ share, worth: values[i]! }] : [],
    )
    if (own.length === 0) return []
    const share = own.reduce((sum, credit) => sum + credit.share, 0)
    millionths += share
    return [
      { order: o, part: share / WHOLE, added: 0, worth: own.reduce((sum, credit) => sum + credit.worth, 0) },
    ]
  })
  return { ...nothing, orders, amount: millionths / WHOLE, worth: worthOf(orders) }
}

/** Tenths and minor units are rounded at each leaf, as in every row that sums them. */
function estimated({ evidence: { data, estimate }, within, daysOf }: Asked): OpenedFigure {
  const byOrder = new Map<number, OpenedOrder>()
  const tenths = new Float64Array(data.tree.leaves.length)
  const value = new Float64Array(data.tree.leaves.length)
  for (const { order, leaf, seen, unseen } of estimate.shares) {
    const { day, value: each } = data.orders[order]!
    if (!inPeriod(day, daysOf(leaf))) continue
    const worth = (seen + unseen) * each
    tenths[leaf]! += (seen + unseen) * 10
    value[leaf]! += worth
    if (!within(leaf)) continue
    const one = byOrder.get(order) ?? { order, part: 0, added: 0, worth: 0 }
    byOrder.set(order, {
      order,
      part: one.part + seen,
      added: one.added + unseen,
      worth: one.worth + worth,
    })
  }
  const summed = (exact: Float64Array) => {
    const whole = wholeByLeaf(data.tree, exact)
    return data.tree.leaves.reduce((sum, _, leaf) => (within(leaf) ? sum + whole[leaf]! : sum), 0)
  }
  return {
    ...nothing,
    orders: [...byOrder.values()].sort((a, b) => a.order - b.order),
    amount: summed(tenths) / 10,
    worth: summed(value),
  }
}

function delivered(
  { evidence: { data }, seen, period, within }: Asked,
  pick: 'spend' | 'impressions' | 'clicks' | 'seen',
): OpenedFigure {
  const byDay = new Map<number, OpenedDay>()
  const at = (day: number) => {
    const found = byDay.get(day) ?? { day, spend: 0, impressions: 0, clicks: 0, seen: 0 }
    byDay.set(day, found)
    return found
  }
  for (const row of data.delivery) {
    if (!inPeriod(row.day, period) || !within(row.leaf)) continue
    const sum = at(row.day)
    sum.spend += row.spend
    sum.impressions += row.impressions
    sum.clicks += row.clicks
  }
  for (const { leaf, day, clicks } of seen) if (inPeriod(day, period) && within(leaf)) at(day).seen += clicks
  const days = [...byDay.values()].sort((a, b) => a.day - b.day)
  return { ...nothing, days, amount: days.reduce((sum, day) => sum + day[pick], 0) }
}

/** Of the orders that we track to the scope's network, in the period, those that it claims as well. */
function networkCapture({ evidence, scope, period }: Asked): OpenedFigure {
  const { data, estimate } = evidence
  const network = data.tree.networks.indexOf(scope.network ?? '')
  const orders = trackedTo(evidence, network, period).map(order => ({
    order,
    part: estimate.claimedPart[order]!,
    added: 0,
    worth: data.orders[order]!.value,
  }))
  const both = orders.reduce((sum, { part }) => sum + part, 0)
  const amount = claimingNetworks(data).has(network) ? ratio(both, orders.length) : null
  return { ...nothing, orders, amount, worth: worthOf(orders) }
}

/** Of the orders that are the network's by its own claims, in the period, those that we track to it. */
function ownCapture({ evidence, scope, period }: Asked): OpenedFigure {
  const { data, estimate } = evidence
  const network = data.tree.networks.indexOf(scope.network ?? '')
  const parts = new Map<number, number>()
  for (const order of trackedTo(evidence, network, period))
    if (estimate.claimedPart[order]! > 0) parts.set(order, estimate.claimedPart[order]!)
  const both = [...parts.values()].reduce((sum, part) => sum + part, 0)
  for (const { order, leaf, seen, certain } of estimate.shares)
    if (!certain && data.tree.networkOf[leaf] === network && inPeriod(data.orders[order]!.day, period))
      parts.set(order, (parts.get(order) ?? 0) + seen)
  const orders = [...parts]
    .sort((a, b) => a[0] - b[0])
    .map(([order, part]) => ({ order, part, added: 0, worth: part * data.orders[order]!.value }))
  const all = orders.reduce((sum, { part }) => sum + part, 0)
  return { ...nothing, orders, amount: ratio(both, all), worth: worthOf(orders) }
}
