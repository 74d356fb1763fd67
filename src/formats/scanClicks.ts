import {
  type ClickFacts,
  type GatheredClicks,
  isDesktop,
  type NamedClicks,
  numberAds,
} from '@/core/intake/clicks'
import type { Reject } from '@/core/intake/fields'
import { parseInstant } from '@/core/shared/days'
import { type ByteRows, byteRows, hashOf, NO_HASH } from './byteRows'
import { lineReader } from './csv'

export interface Scan {
  /** lines, empty ones among them */
  lines: number
  /** rows that went in */
  read: number
  /** the first line is 1 */
  rejected: Reject[]
  /** as of `gatherClicks` */
  visitorsByClick: (named: NamedClicks) => Set<string>
  part: (named: NamedClicks, byClick: ReadonlySet<string>) => GatheredClicks
}

/**
 * Reads clicks as bytes. Few of a million are named by an order: of each is kept where it stands, and a hash of
 * whatever may name it; its text is made once it is asked for. A line that is not plainly good is read as those of
 * other files are (`csv.ts`), which say what is wrong with it.
 *
 * @param header the file's first line
 * @param bytes the lines after it
 * @returns null where a line may be no row, so that the text is to be read as a whole
 * @throws FileRefused
 */
export function scanClicks(header: string, bytes: Buffer): Scan | null {
  if (bytes.includes(0)) return null
  const ads = numberAds()
  let read = 0
  let lines = 0
  // Of each click: the byte at which it begins, its time, its ad, and the hashes of what may name it.
  const start: number[] = []
  const at: number[] = []
  const ad: number[] = []
  const id: number[] = []
  const networkId: number[] = []
  const visitor: number[] = []
  const odd = new Map<number, ClickFacts>()
  const takeOdd = (facts: ClickFacts) => {
    const { network, campaign_id, ad_set_id, ad_id } = facts
    at[read] = facts.clicked_at
    ad[read] = ads.numberOf(network, campaign_id ?? '', ad_set_id ?? '', ad_id ?? '')
    id[read] = hashOf(facts.click_id)
    networkId[read] = hashOf(facts.network_click_id ?? '')
    visitor[read] = hashOf(facts.visitor_id ?? '')
    odd.set(read, facts)
    read += 1
  }
  const { keys, rejected, readLine } = lineReader('clicks', header, 'clicks.csv', takeOdd)
  const cellOf = (fact: keyof ClickFacts) => keys.indexOf(fact)
  const row = byteRows(bytes, keys, [...PATH, 'click_id', 'network_click_id', 'visitor_id'])
  const instantAt = instantReader(bytes)
  const adOf = adReader(bytes, row, ads, PATH.map(cellOf))
  const cells = {
    id: cellOf('click_id'),
    at: cellOf('clicked_at'),
    network: cellOf('network'),
    networkId: cellOf('network_click_id'),
    visitor: cellOf('visitor_id'),
    device: cellOf('device'),
  }
  const isEmpty = (cell: number) => row.from[cell] === row.to[cell]
  const hashAt = (cell: number) => (cell < 0 ? NO_HASH : row.hash[cell]!)

  for (let begin = 0; begin < bytes.length; begin = row.next) {
    lines += 1
    const plain = row.look(begin)
    if (plain === null) return null
    const instant =
      plain && !isEmpty(cells.id) && !isEmpty(cells.network)
        ? instantAt(row.from[cells.at]!, row.to[cells.at]!)
        : null
    if (instant === null) {
      readLine(row.line(begin), lines)
      continue
    }
    start[read] = begin
    at[read] = instant
    ad[read] = adOf()
    id[read] = hashAt(cells.id)
    networkId[read] = hashAt(cells.networkId)
    visitor[read] = hashAt(cells.visitor)
    read += 1
  }

  const factsOf = (i: number): NamedBy & Pick<ClickFacts, 'device'> => {
    const read = odd.get(i)
    if (read) return read
    row.look(start[i]!)
    return {
      click_id: row.text(cells.id),
      network_click_id: row.text(cells.networkId) || null,
      visitor_id: row.text(cells.visitor) || null,
      device: row.text(cells.device) || null,
    }
  }
  return {
    lines,
    read,
    rejected,
    visitorsByClick: named => {
      const [ids, networkIds] = [someOf(named.clickIds), someOf(named.networkClickIds)]
      const visitors = new Set<string>()
      for (let i = 0; i < read; i++) {
        if (!ids(id[i]!) && !networkIds(networkId[i]!)) continue
        const facts = factsOf(i)
        const { visitor_id } = facts
        if (visitor_id !== null && !named.visitors.has(visitor_id) && isNamed(facts, named))
          visitors.add(visitor_id)
      }
      return visitors
    },
    part: (named, byClick) => {
      const [ids, networkIds] = [someOf(named.clickIds), someOf(named.networkClickIds)]
      const [visitors, others] = [someOf(named.visitors), someOf(byClick)]
      const kept: number[] = []
      const facts: ReturnType<typeof factsOf>[] = []
      for (let i = 0; i < read; i++) {
        const visited = visitors(visitor[i]!) || others(visitor[i]!)
        if (!visited && !ids(id[i]!) && !networkIds(networkId[i]!)) continue
        const of = factsOf(i)
        const by = of.visitor_id
        if (!isNamed(of, named) && (by === null || !(named.visitors.has(by) || byClick.has(by)))) continue
        kept.push(i)
        facts.push(of)
      }
      return {
        ids: facts.map(of => of.click_id),
        at: Float64Array.from(kept, i => at[i]!),
        ad: Int32Array.from(kept, i => ad[i]!),
        ads: ads.all(),
        visitor: facts.map(of => of.visitor_id),
        networkClickIds: facts.map(of => of.network_click_id),
        desktop: Uint8Array.from(facts, of => (isDesktop(of.device) ? 1 : 0)),
      }
    },
  }
}

type NamedBy = Pick<ClickFacts, 'click_id' | 'network_click_id' | 'visitor_id'>
const isNamed = ({ click_id, network_click_id }: NamedBy, named: NamedClicks): boolean =>
  named.clickIds.has(click_id) || (network_click_id !== null && named.networkClickIds.has(network_click_id))

/** Whether a hash may be that of one of some texts; hardly any other is taken for one. */
function someOf(texts: ReadonlySet<string>): (hash: number) => boolean {
  const bits = new Uint8Array(1 << 21)
  for (const text of texts) {
    const at = hashOf(text) >>> 8
    bits[at >>> 3]! |= 1 << (at & 7)
  }
  return hash => (bits[hash >>> 11]! & (1 << ((hash >>> 8) & 7))) !== 0
}

const PATH = ['network', 'campaign_id', 'ad_set_id', 'ad_id'] as const

/** Numbers the ad of the row that was looked at, by the bytes of its cells; text is made of each ad once. */
function adReader(bytes: Buffer, row: ByteRows, ads: ReturnType<typeof numberAds>, path: readonly number[]) {
  const [network, campaign, adSet, ad] = path as [number, number, number, number]
  const met = new Map<number, { number: number; cells: { from: number; to: number }[] }>()
  const isSame = (one: { from: number; to: number }, cell: number): boolean => {
    if (cell < 0) return true
    const from = row.from[cell]!
    if (one.to - one.from !== row.to[cell]! - from) return false
    for (let i = one.from; i < one.to; i++) if (bytes[i] !== bytes[from + i - one.from]) return false
    return true
  }
  return (): number => {
    let hash = NO_HASH
    for (const cell of path) if (cell >= 0) hash = Math.imul(hash, 31) ^ row.hash[cell]!
    const one = met.get(hash)
    if (one?.cells.every((of, i) => isSame(of, path[i]!))) return one.number
    const number = ads.numberOf(row.text(network), row.text(campaign), row.text(adSet), row.text(ad))
    met.set(hash, { number, cells: path.map(cell => ({ from: row.from[cell] ?? 0, to: row.to[cell] ?? 0 })) })
    return number
  }
}

const [ZERO, NINE, DASH, COLON, DOT, LETTER_T, LETTER_Z] = [48, 57, 45, 58, 46, 84, 90]
/** `YYYY-MM-DDThh:mm:ss`, then `Z` or thousandths and `Z`. */
const [DATE, SECONDS, THOUSANDTHS] = [10, 20, 24]

/** Reads instants in the form in which files mostly have them, in UTC; null for any other. */
function instantReader(bytes: Buffer) {
  /** midnight of each date that was met; null where there is no such date */
  const midnights = new Map<number, number | null>()
  const digits = (at: number, count: number): number => {
    let value = 0
    for (let i = at; i < at + count; i++) {
      const byte = bytes[i]!
      if (byte < ZERO || byte > NINE) return Number.NaN
      value = value * 10 + byte - ZERO
    }
    return value
  }
  return (from: number, to: number): number | null => {
    const length = to - from
    const known =
      (length === SECONDS || (length === THOUSANDTHS && bytes[from + 19] === DOT)) &&
      bytes[from + 4] === DASH &&
      bytes[from + 7] === DASH &&
      bytes[from + 10] === LETTER_T &&
      bytes[from + 13] === COLON &&
      bytes[from + 16] === COLON &&
      bytes[to - 1] === LETTER_Z
    if (!known) return null
    const [hour, minute, second] = [digits(from + 11, 2), digits(from + 14, 2), digits(from + 17, 2)]
    const thousandths = length === SECONDS ? 0 : digits(from + 20, 3)
    const date = digits(from, 4) * 10_000 + digits(from + 5, 2) * 100 + digits(from + 8, 2)
    if (!(hour < 24 && minute < 60 && second < 60 && thousandths >= 0 && date >= 0)) return null
    let midnight = midnights.get(date)
    if (midnight === undefined) {
      midnight = parseInstant(`${bytes.toString('latin1', from, from + DATE)}T00:00:00Z`)
      midnights.set(date, midnight)
    }
    return midnight === null ? null : midnight + ((hour * 60 + minute) * 60 + second) * 1000 + thousandths
  }
}
