import { type Day, formatDay, type Period, parseDay } from '../shared/days'
import { currencyExponent, minor } from '../shared/money'
import type { ClaimSumRow, DeliveryRow } from './records'

/** Parts of a conversion that are told apart. */
const PARTS = 1000

/** A row that is one day's part of a longer stretch bears it as an ISO 8601 interval of its first and last day. */
export const writeStretch = ({ from, to }: Period): string => `${formatDay(from)}/${formatDay(to)}`

/** Reads what `writeStretch` wrote; null for anything else. */
export function readStretch(text: string | null | undefined): Period | null {
  const [from = null, to = null] = (text ?? '').split('/').map(parseDay)
  return from !== null && to !== null && from <= to ? { from, to } : null
}

/** A whole laid evenly over days, to the last unit; `start` below 1 moves where the first unit falls. */
function laidEvenly(units: number, days: number, start = 0.5): number[] {
  const before = (day: number) => Math.floor((units * day) / days + start)
  return Array.from({ length: days }, (_, day) => before(day + 1) - before(day))
}

/** Between 0 and 1, the same for the same text: few conversions of many ads do not all fall on the same day. */
function startOf(text: string): number {
  let hash = 2_166_136_261
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 16_777_619)
  return (hash >>> 0) / 2 ** 32
}

const daysOf = ({ from, to }: Period) => Array.from({ length: to - from + 1 }, (_, i) => from + i)

/** A row of a longer stretch as one row for each of its days, whose figures sum to its own; of one day as it is. */
export function layDelivery<Row extends DeliveryRow>(row: Row): Row[] {
  const span = spanOf(row)
  if (!span) return [row]
  const days = daysOf(span)
  const [spend, impressions, clicks, reach] = [row.spend, row.impressions, row.clicks, row.reach ?? 0].map(
    units => laidEvenly(units, days.length),
  ) as [number[], number[], number[], number[]]
  return days.map((date, i) => ({
    ...row,
    date,
    date_to: null,
    stretch: writeStretch(span),
    spend: minor(spend[i]!),
    impressions: impressions[i]!,
    clicks: clicks[i]!,
    reach: row.reach === null ? null : reach[i]!,
  }))
}

/** The same of conversions: whole ones stay whole, and each day's value is that of its conversions. */
export function layClaims<Row extends ClaimSumRow>(row: Row): Row[] {
  const span = spanOf(row)
  if (!span) return [row]
  const days = daysOf(span)
  const start = startOf([row.network, row.campaign_id, row.ad_set_id, row.ad_id, row.conversion].join('\n'))
  const counts = (count: number) => {
    const whole = Math.floor(count + 1e-9)
    const laid = laidEvenly(whole, days.length, start)
    const rest = Math.round((count - whole) * PARTS)
    return laid.map((units, i) => units + (i === Math.floor(days.length / 2) ? rest / PARTS : 0))
  }
  const [byClick, byView] = [counts(row.click_through), counts(row.view_through)]
  const total = row.click_through + row.view_through
  const digits = Math.max(
    row.value?.split('.')[1]?.length ?? 0,
    row.currency === null ? 0 : (currencyExponent(row.currency) ?? 0),
  )
  const worth = Math.round(Number(row.value ?? 0) * 10 ** digits)
  let [seen, given] = [0, 0]
  return days.map((date, i) => {
    seen += byClick[i]! + byView[i]!
    const last = i === days.length - 1
    const upTo = last ? worth : Math.round(worth * (total > 0 ? seen / total : (i + 1) / days.length))
    const own = upTo - given
    given = upTo
    return {
      ...row,
      date,
      date_to: null,
      stretch: writeStretch(span),
      click_through: byClick[i]!,
      view_through: byView[i]!,
      value: row.value === null ? null : (own / 10 ** digits).toFixed(digits),
    }
  })
}

function spanOf({ date, date_to }: { date: Day; date_to?: Day | null | undefined }): Period | null {
  return date_to !== null && date_to !== undefined && date_to > date ? { from: date, to: date_to } : null
}
