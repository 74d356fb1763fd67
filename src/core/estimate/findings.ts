import type { Dataset } from '../intake/dataset'
import type { Claimed } from './claimed'
import type { DatedBy } from './dating'
import type { Tallies } from './tallies'
import type { Doubted } from './unseen'
import type { Witnesses } from './witnesses'

/** Why an estimate may be further off than its range says, and of which network. */
export type EstimateFinding =
  | {
      /** its values do not match those of orders: matched by counts alone */
      code: 'values_differ_in_basis'
      severity: 'warning'
      at: { network: string; share: number }
    }
  | {
      /** nearly all orders cost the same: one claimed twice looks like an untracked one */
      code: 'one_price'
      severity: 'hint'
      at: { network: string; share: number }
    }
  | {
      /** too few of its claims are of orders that we track to tell its capture */
      code: 'few_pairs'
      severity: 'warning'
      at: { network: string; count: number }
    }
  | {
      /** it alone claims anything: how often phones lose their trace is taken from elsewhere */
      code: 'single_network'
      severity: 'hint'
      at: { network: string }
    }
  | {
      /** it reports no conversions: how much tracking loses is taken from those that do */
      code: 'no_claims'
      severity: 'warning'
      at: { network: string; count: number }
    }
  | {
      /** no network reports conversions: what is tracked stands as it was counted, and there may be more */
      code: 'nothing_claimed'
      severity: 'warning'
      at: { count: number }
    }
  | {
      /** orders are known by the parameters of their landing page, and no clicks are recorded */
      code: 'by_parameters'
      severity: 'hint'
      at: { count: number }
    }
  | {
      /** its claims stand on other days than its rules say: on those of clicks, or of conversions */
      code: 'dated_otherwise'
      severity: 'warning'
      at: { network: string; by: DatedBy }
    }
  | {
      /** orders without a visitor beyond what ads and other ways explain: they block everything, or came otherwise */
      code: 'no_trace'
      severity: 'warning'
      at: { count: number }
    }

const UNLIKE = 0.5
const SAME_PRICE = 0.9
const FEW_PAIRS = 20
const NO_TRACE = 0.05

/** What is to be said of an estimate beside its ranges. */
export function findingsOfEstimate(
  { orders, tree, delivery }: Dataset,
  { cells, byParameters }: Witnesses,
  { networks, orders: ofSite }: Tallies,
  claims: readonly (Claimed | null)[],
  blocking: Doubted,
  otherDating: ReadonlyMap<number, DatedBy>,
): EstimateFinding[] {
  const found: EstimateFinding[] = []
  const commonest = shareOfCommonest(orders.map(order => order.gross))
  const claiming = tree.networks.filter((_, n) => claims[n])
  const tracked = networks.reduce((sum, { credited }) => sum + credited, 0)
  if (claiming.length === 0 && tracked > 0)
    found.push({ code: 'nothing_claimed', severity: 'warning', at: { count: tracked } })
  if (byParameters) found.push({ code: 'by_parameters', severity: 'hint', at: { count: tracked } })
  const bills = new Set(delivery.map(row => tree.networkOf[row.leaf]!))
  claims.forEach((claim, n) => {
    const count = networks[n]!.credited
    if (!claim && claiming.length > 0 && bills.has(n))
      found.push({ code: 'no_claims', severity: 'warning', at: { network: tree.networks[n]!, count } })
    if (!claim) return
    const network = tree.networks[n]!
    const pairs = Math.round(claim.share * networks[n]!.touches)
    if (
      claim.unlike !== null &&
      claim.unlike > UNLIKE &&
      cells.some(cell => cell.network === n && cell.value > 0)
    )
      found.push({
        code: 'values_differ_in_basis',
        severity: 'warning',
        at: { network, share: Number(claim.unlike.toFixed(2)) },
      })
    if (claim.unlike !== null && commonest > SAME_PRICE)
      found.push({
        code: 'one_price',
        severity: 'hint',
        at: { network, share: Number(commonest.toFixed(2)) },
      })
    if (pairs < FEW_PAIRS)
      found.push({ code: 'few_pairs', severity: 'warning', at: { network, count: pairs } })
    const by = otherDating.get(n)
    if (by) found.push({ code: 'dated_otherwise', severity: 'warning', at: { network, by } })
    if (claiming.length === 1) found.push({ code: 'single_network', severity: 'hint', at: { network } })
  })
  if (blocking.mean > NO_TRACE)
    found.push({
      code: 'no_trace',
      severity: 'warning',
      at: { count: Math.round(blocking.shown * ofSite) },
    })
  return found
}

function shareOfCommonest(values: readonly number[]): number {
  const counts = new Map<number, number>()
  for (const value of values) counts.set(value, (counts.get(value) ?? 0) + 1)
  return values.length > 0 ? Math.max(...counts.values()) / values.length : 0
}
