import { perPath } from '../shared/path'
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
>

/** What of clicks an outcome, a claim or another click of the same visitor can name. */
export interface NamedClicks {
  clickIds: ReadonlySet<string>
  networkClickIds: ReadonlySet<string>
  visitors: ReadonlySet<string>
}

/** Some of the clicks that were gathered, with all ads that were met; plain enough to be handed to another thread. */
export interface GatheredClicks {
  ids: string[]
  at: Float64Array
  /** numbers in `ads` */
  ad: Int32Array
  ads: ClickColumns['ads']
  visitor: (string | null)[]
  networkClickIds: (string | null)[]
  desktop: Uint8Array
}

export const isDesktop = (device: string | null): boolean => device?.toLowerCase() === 'desktop'

/**
 * Numbers ads in the order in which they are met.
 *
 * @param known has the first numbers, and is left as it is
 */
export function numberAds(known: ClickColumns['ads'] = []) {
  let ads = known
  let seeded = 0
  const numberOf = perPath((network, campaign, adSet, ad) => {
    if (seeded < known.length) return seeded++
    if (ads === known) ads = [...known]
    return ads.push({ network: network!, campaign: campaign!, adSet: adSet!, ad: ad! }) - 1
  })
  for (const { network, campaign, adSet, ad } of known) numberOf(network, campaign, adSet, ad)
  return { all: () => ads, numberOf }
}

/**
 * Gathers clicks in columns as they are read, so that a million of them need no object each.
 * A click ID seen again is the same click.
 *
 * @param known the ads that clicks are numbered by; those that it lacks come after
 */
export function gatherClicks(known: ClickColumns['ads'] = []) {
  const ids: string[] = []
  const at: number[] = []
  const ad: number[] = []
  const visitor: (string | null)[] = []
  const networkClickIds: (string | null)[] = []
  const desktop: number[] = []
  const ads = numberAds(known)
  const add = (row: ClickFacts): void => {
    const { network, campaign_id: campaign, ad_set_id: adSet, ad_id } = row
    ids.push(row.click_id)
    at.push(row.clicked_at)
    ad.push(ads.numberOf(network, campaign ?? '', adSet ?? '', ad_id ?? ''))
    visitor.push(row.visitor_id)
    networkClickIds.push(row.network_click_id)
    desktop.push(isDesktop(row.device) ? 1 : 0)
  }

  let marked: { named: NamedClicks; marks: Uint8Array } | null = null
  /** 1 for the clicks that something names by themselves; both questions below ask for it. */
  const marksOf = (named: NamedClicks): Uint8Array => {
    if (marked?.named === named && marked.marks.length === ids.length) return marked.marks
    const marks = new Uint8Array(ids.length)
    for (let i = 0; i < ids.length; i++) {
      const theirs = networkClickIds[i]
      if (named.clickIds.has(ids[i]!) || (theirs && named.networkClickIds.has(theirs))) marks[i] = 1
    }
    marked = { named, marks }
    return marks
  }

  /** The visitors that something names by a click alone. */
  const visitorsByClick = (named: NamedClicks): Set<string> => {
    const visitors = new Set<string>()
    marksOf(named).forEach((mark, i) => {
      const of = visitor[i]
      if (mark === 1 && of && !named.visitors.has(of)) visitors.add(of)
    })
    return visitors
  }

  /** The clicks that something names: by themselves, or by their visitor. */
  const namedOf = (named: NamedClicks, byClick: ReadonlySet<string>): number[] => {
    const kept: number[] = []
    marksOf(named).forEach((mark, i) => {
      const of = visitor[i]
      if (mark === 1 || (of && (named.visitors.has(of) || byClick.has(of)))) kept.push(i)
    })
    return kept
  }

  /**
   * Of what was gathered, what is named.
   *
   * @param byClick `visitorsByClick` of all places where clicks were gathered
   */
  const part = (named: NamedClicks, byClick: ReadonlySet<string>): GatheredClicks => {
    const kept = namedOf(named, byClick)
    return {
      ids: kept.map(i => ids[i]!),
      at: Float64Array.from(kept, i => at[i]!),
      ad: Int32Array.from(kept, i => ad[i]!),
      ads: ads.all(),
      visitor: kept.map(i => visitor[i]!),
      networkClickIds: kept.map(i => networkClickIds[i]!),
      desktop: Uint8Array.from(kept, i => desktop[i]!),
    }
  }

  /** Adds what was gathered elsewhere, after what is here. */
  const take = (part: GatheredClicks): void => {
    const numbers = part.ads.map(({ network, campaign, adSet, ad }) =>
      ads.numberOf(network, campaign, adSet, ad),
    )
    part.ids.forEach((id, i) => {
      ids.push(id)
      at.push(part.at[i]!)
      ad.push(numbers[part.ad[i]!]!)
      visitor.push(part.visitor[i]!)
      networkClickIds.push(part.networkClickIds[i]!)
      desktop.push(part.desktop[i]!)
    })
  }

  /**
   * What was gathered up to now, or of it what is named; more may be added and the columns taken again.
   */
  const columns = (named?: NamedClicks): ClickColumns => {
    const numberOf = new Map<string, number>()
    const chosen: number[] = []
    for (const i of named ? namedOf(named, visitorsByClick(named)) : ids.keys()) {
      if (numberOf.has(ids[i]!)) continue
      numberOf.set(ids[i]!, 0)
      chosen.push(i)
    }
    if (chosen.some((i, k) => k > 0 && at[chosen[k - 1]!]! > at[i]!))
      chosen.sort((a, b) => at[a]! - at[b]! || a - b)
    const visitors = new Map<string, number>()
    const numberOfVisitor = (id: string | null): number => {
      if (id === null) return -1
      const known = visitors.get(id)
      if (known === undefined) visitors.set(id, visitors.size)
      return known ?? visitors.size - 1
    }
    chosen.forEach((i, number) => void numberOf.set(ids[i]!, number))
    return {
      count: chosen.length,
      ids: chosen.map(i => ids[i]!),
      numberOf,
      at: Float64Array.from(chosen, i => at[i]!),
      ad: Int32Array.from(chosen, i => ad[i]!),
      ads: ads.all(),
      visitor: Int32Array.from(chosen, i => numberOfVisitor(visitor[i]!)),
      visitors,
      networkClickIds: chosen.map(i => networkClickIds[i]!),
      desktop: Uint8Array.from(chosen, i => desktop[i]!),
    }
  }
  return { add, take, visitorsByClick, part, columns }
}

/**
 * Clicks as columns.
 *
 * @param ads the ads that they are numbered by; those that it lacks come after
 */
export function clickColumns(rows: Iterable<ClickFacts>, ads: ClickColumns['ads'] = []): ClickColumns {
  const { add, columns } = gatherClicks(ads)
  for (const row of rows) add(row)
  return columns()
}
