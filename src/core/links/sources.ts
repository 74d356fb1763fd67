import { WHOLE } from '../evidence/place'
import type { ProvenCredit } from '../weigh/credits'

/** What clicks can be listed by. */
export const sourceKinds = ['source', 'keyword', 'placement', 'device'] as const
export type SourceKind = (typeof sourceKinds)[number]

/** The clicks of a span of days that came by one source, keyword, placement or device of a network. */
export interface CountedSource {
  network: string
  /** the source, the placement or the device; or the keyword and its match type */
  values: string[]
  clicks: number
  visitors: number
}
export interface SourceLine extends CountedSource {
  /** proven orders of those days, each by its share where several clicks are credited */
  orders: number
  /** what they are worth, in minor units */
  value: number
}

/**
 * The lines of *Sources*: clicks counted, and the orders that are proven to have come of them. An order may
 * stand on a click of earlier days: its line is there too, with no click.
 *
 * @param valuesOf how a credited click came; null where it does not say
 * @returns most clicks first, then most orders
 */
export function sourceLines(
  counted: readonly CountedSource[],
  credits: readonly ProvenCredit[],
  valuesOf: (clickId: string) => string[] | null,
): SourceLine[] {
  const key = (network: string, values: readonly string[]) => JSON.stringify([network, values])
  const lines = new Map(counted.map(c => [key(c.network, c.values), { ...c, shares: 0, value: 0 }]))
  for (const { network, clickId, share, value } of credits) {
    const values = valuesOf(clickId)
    if (!values) continue
    const at = key(network, values)
    let line = lines.get(at)
    if (!line) lines.set(at, (line = { network, values, clicks: 0, visitors: 0, shares: 0, value: 0 }))
    line.shares += share
    line.value += value
  }
  return [...lines.values()]
    .map(({ shares, ...line }) => ({ ...line, orders: shares / WHOLE }))
    .sort((a, b) => b.clicks - a.clicks || b.orders - a.orders)
}
