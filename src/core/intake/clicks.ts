import type { ClickRow } from './records'

/** Ad clicks in columns, in order of time, with the ads and visitors they name numbered. */
export interface ClickColumns {
  count: number
  ids: string[]
  /** the number of each click ID */
  numberOf: Map<string, number>
  /** epoch ms */
  at: Float64Array
  /** numbers in `ads` */
  ad: Int32Array
  ads: { network: string; campaign: string; adSet: string; ad: string }[]
  /** visitor numbers, -1 for none */
  visitor: Int32Array
  visitors: Map<string, number>
  networkClickIds: (string | null)[]
  /** 1 for clicks made at a desktop, 0 for all others */
  desktop: Uint8Array
  /** numbers of clicks that count as none: made by programs, or again at once. They may still prove an order. */
  uncounted: Set<number>
}

/** What of a click counts for a judgement. */
export type ClickFacts = Pick<
  ClickRow,
  | 'click_id'
  | 'clicked_at'
  | 'network'
  | 'campaign_id'
  | 'ad_set_id'
  | 'ad_id'
  | 'visitor_id'
  | 'network_click_id'
  | 'device'
> & { uncounted?: boolean }

type Branch = Map<string, Branch | number>

/**
 * Gathers clicks in columns as they are read, so that a million of them need no object each.
 * A click ID seen again is the same click.
 */
export function gatherClicks() {
  const ids: string[] = []
  const at: number[] = []
  const ad: number[] = []
  const visitor: number[] = []
  const networkClickIds: (string | null)[] = []
  const desktop: number[] = []
  const numberOf = new Map<string, number>()
  const uncounted = new Set<string>()
  const ads: ClickColumns['ads'] = []
  const visitors = new Map<string, number>()
  let sorted = true

  const numberOfVisitor = (id: string): number => {
    const known = visitors.get(id)
    if (known === undefined) visitors.set(id, visitors.size)
    return known ?? visitors.size - 1
  }
  // Nested maps rather than one joined key: joining costs more than all else here.
  const branches: Branch = new Map()
  const numberOfAd = (network: string, campaign: string, adSet: string, ad: string): number => {
    let at = branches
    for (const part of [network, campaign, adSet]) {
      let next = at.get(part)
      if (!(next instanceof Map)) at.set(part, (next = new Map()))
      at = next
    }
    let number = at.get(ad)
    if (typeof number !== 'number') at.set(ad, (number = ads.push({ network, campaign, adSet, ad }) - 1))
    return number
  }
  const add = (row: ClickFacts): void => {
    if (numberOf.has(row.click_id)) return
    const { network, campaign_id: campaign, ad_set_id: adSet, ad_id } = row
    const number = numberOfAd(network, campaign ?? '', adSet ?? '', ad_id ?? '')
    sorted &&= ids.length === 0 || at[ids.length - 1]! <= row.clicked_at
    numberOf.set(row.click_id, ids.length)
    ids.push(row.click_id)
    at.push(row.clicked_at)
    ad.push(number)
    visitor.push(row.visitor_id === null ? -1 : numberOfVisitor(row.visitor_id))
    networkClickIds.push(row.network_click_id)
    desktop.push(row.device?.toLowerCase() === 'desktop' ? 1 : 0)
    if (row.uncounted) uncounted.add(row.click_id)
  }
  const sort = () => {
    const order = Array.from(ids.keys()).sort((a, b) => at[a]! - at[b]!)
    for (const column of [ids, at, ad, visitor, networkClickIds, desktop] as unknown[][]) {
      const before = [...column]
      order.forEach((from, to) => (column[to] = before[from]))
    }
    ids.forEach((id, i) => numberOf.set(id, i))
    sorted = true
  }
  /** What was gathered up to now; more may be added and the columns taken again. */
  const columns = (): ClickColumns => {
    if (!sorted) sort()
    return {
      count: ids.length,
      ids,
      numberOf,
      at: Float64Array.from(at),
      ad: Int32Array.from(ad),
      ads,
      visitor: Int32Array.from(visitor),
      visitors,
      networkClickIds,
      desktop: Uint8Array.from(desktop),
      uncounted: new Set([...uncounted].map(id => numberOf.get(id)!)),
    }
  }
  return { add, columns }
}

export function clickColumns(rows: Iterable<ClickRow>): ClickColumns {
  const { add, columns } = gatherClicks()
  for (const row of rows) add(row)
  return columns()
}
