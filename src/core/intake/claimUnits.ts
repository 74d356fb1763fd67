import { append } from '../shared/append'
import { type Minor, minor } from '../shared/money'
import { pathKey } from '../shared/path'
import type { Claim, ClaimPart } from './claim'
import type { ClaimSumRow } from './records'
import { readStretch } from './stretch'

/** Conversions are told apart down to so many parts of one. */
export const CONVERSION = 1000

/** A day's sum of a network, with its value in the workspace's currency and where it stands. */
export interface ClaimSum {
  row: ClaimSumRow
  value: Minor
  network: number
  leaf: number
}

const thousandths = (count: number) => Math.round(count * CONVERSION)
const isWhole = ({ row }: ClaimSum) =>
  thousandths(row.click_through) % CONVERSION === 0 && thousandths(row.view_through) % CONVERSION === 0

/**
 * Days' sums as single claims: the value is spread over them to the last cent. Of a network that credits a conversion
 * to several of its ads in parts, the parts of a day are put together to whole conversions again, as far as they go;
 * what is left of the day is a claim of less than one.
 */
export function claimUnits(sums: readonly ClaimSum[]): Claim[] {
  const inParts = new Map<string, ClaimSum[]>()
  const units = sums.flatMap(sum => {
    if (isWhole(sum)) return wholeUnits(sum)
    append(inParts, pathKey(String(sum.network), String(sum.row.date), sum.row.conversion), sum)
    return []
  })
  for (const ofDay of inParts.values())
    for (const kind of ['click', 'view'] as const) units.push(...putTogether(ofDay, kind))
  return units
}

function unit({ row, network, leaf }: ClaimSum, kind: Claim['kind'], value: Minor): Claim {
  const stretch = readStretch(row.stretch)
  return {
    ...(stretch && { stretch }),
    day: row.date,
    at: null,
    network,
    leaf,
    conversion: row.conversion,
    kind,
    transaction: null,
    clickId: null,
    decided: null,
    key: null,
    value,
    valued: row.value !== null,
  }
}

function wholeUnits(sum: ClaimSum): Claim[] {
  const { row, value } = sum
  const units = row.click_through + row.view_through
  const each = units > 0 ? Math.floor(value / units) : 0
  const rest = value - each * units
  return Array.from({ length: units }, (_, k) =>
    unit(sum, k < row.click_through ? 'click' : 'view', minor(each + (k < rest ? 1 : 0))),
  )
}

/** The credits of some ads on a day, dealt out into whole conversions, the largest first. */
function putTogether(ofDay: readonly ClaimSum[], kind: Claim['kind']): Claim[] {
  const credits = ofDay
    .map(sum => {
      const [byClick, byView] = [thousandths(sum.row.click_through), thousandths(sum.row.view_through)]
      const ofClick = Math.round((sum.value * byClick) / Math.max(1, byClick + byView))
      return kind === 'click'
        ? { sum, left: byClick, value: ofClick }
        : { sum, left: byView, value: sum.value - ofClick }
    })
    .filter(({ left }) => left > 0)
    .sort((a, b) => b.left - a.left)
  const units: Claim[] = []
  let parts: (ClaimPart & { sum: ClaimSum })[] = []
  let room = CONVERSION
  const close = () => {
    const [largest] = [...parts].sort((a, b) => b.thousandths - a.thousandths)
    if (!largest) return
    const value = minor(parts.reduce((all, part) => all + part.value, 0))
    units.push({
      ...unit(largest.sum, kind, value),
      parts: parts.map(part => ({ leaf: part.leaf, thousandths: part.thousandths, value: part.value })),
      ...(room > 0 && { thousandths: CONVERSION - room }),
    })
    parts = []
    room = CONVERSION
  }
  for (const credit of credits)
    while (credit.left > 0) {
      const taken = Math.min(room, credit.left)
      const value = minor(
        taken === credit.left ? credit.value : Math.floor((credit.value * taken) / credit.left),
      )
      parts.push({ leaf: credit.sum.leaf, thousandths: taken, value, sum: credit.sum })
      credit.left -= taken
      credit.value -= value
      room -= taken
      if (room === 0) close()
    }
  close()
  return units
}

/** What each ad has of a claim. */
export const partsOf = ({ parts, leaf, value }: Claim): readonly ClaimPart[] =>
  parts ?? [{ leaf, thousandths: CONVERSION, value }]

/** Of how many conversions a claim is: one, or what is left of a day's parts. */
export const countOf = ({ thousandths: of }: Claim): number => (of === undefined ? 1 : of / CONVERSION)
