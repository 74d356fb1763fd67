import { appendFileSync, existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import Papa from 'papaparse'
import * as z from 'zod'
import { formatDay, parseDay } from '@/core/shared/days'
import { writeCsv } from '@/formats/csv'
import { deliverFile } from './deliver'
import { openMarket, type Serving } from './market/simulate'

const DEMO = { seed: 11, days: 75 }
/** A week is enough to see what a move did, and more at once would keep whoever waits. */
const MOST_DAYS = 14

const clockSchema = z.object({
  /** the last day of the market as the demo was filled with it, `YYYY-MM-DD` */
  end: z.string(),
  /** epoch ms up to which the application has been told of the day after */
  told: z.number(),
  /** what was served on each day since, as `network/ad` and its share of the usual budget */
  days: z.array(z.record(z.string(), z.number())).default([]),
})

/** How a practice network serves each of its ads at present, where that is not as usual. */
export type ServedNow = () => {
  network: string
  campaign: string
  adSet: string
  ad: string
  factor: number
}[]

/**
 * The market's own clock: it goes on by whole days when it is told to, with what the networks serve by then, and tells
 * the application what was served, clicked, booked and claimed, as its shop, its tag and its networks would.
 */
export function marketClock(folder: string, servedNow: ServedNow) {
  const file = join(folder, 'clock.json')
  const read = () => clockSchema.parse(JSON.parse(readFileSync(file, 'utf8')))
  const save = (clock: z.infer<typeof clockSchema>) => {
    mkdirSync(dirname(file), { recursive: true })
    writeFileSync(`${file}.new`, JSON.stringify(clock))
    renameSync(`${file}.new`, file)
  }
  const servingOf = (day: Record<string, number>): Serving => {
    const factors = new Map(Object.entries(day))
    return (network, campaign, adSet, ad) =>
      factors.get(`${network}/${ad}`) ??
      factors.get(`${network}/${campaign}/${adSet}`) ??
      factors.get(`${network}/${campaign}`) ??
      1
  }

  /** The market's day; null where there is no demo market. */
  const today = (): string | null => {
    if (!existsSync(file)) return null
    const clock = read()
    return formatDay(parseDay(clock.end)! + clock.days.length)
  }

  let going: Promise<unknown> = Promise.resolve()
  /** Goes on by some days, one call after the other. Gives the last day that was played. */
  const goOn = (days: number): Promise<string> => {
    const next = going.then(() => play(Math.min(MOST_DAYS, Math.max(1, Math.trunc(days) || 1))))
    going = next.catch(() => {})
    return next
  }
  async function play(days: number): Promise<string> {
    const clock = read()
    const { goOn: playDay } = openMarket({ ...DEMO, scale: 1, end: parseDay(clock.end)! })
    for (const day of clock.days) playDay(servingOf(day))
    const now = Object.fromEntries(
      servedNow().map(({ network, campaign, adSet, ad, factor }) => [
        ad ? `${network}/${ad}` : adSet ? `${network}/${campaign}/${adSet}` : `${network}/${campaign}`,
        factor,
      ]),
    )
    const files = { delivery: [], clicks: [], orders: [], 'claim-rows': [], claims: [] } as Record<
      'delivery' | 'clicks' | 'orders' | 'claim-rows' | 'claims',
      Record<string, string | number>[]
    >
    for (let i = 0; i < days; i++) {
      const played = playDay(servingOf(now))
      const first = clock.days.length === 0
      clock.days.push(now)
      const isNews = (at: unknown) => !first || Date.parse(String(at)) >= clock.told
      files.delivery.push(...played.delivery)
      files.clicks.push(...played.clicks.filter(click => isNews(click.clicked_at)))
      files.orders.push(...played.orders.filter(order => isNews(order.ordered_at)))
      files['claim-rows'].push(...played.claimRows.filter(claim => claim.network === 'kelpie'))
      files.claims.push(...played.claims.filter(claim => claim.network !== 'kelpie'))
    }
    // What a click is comes before what it brought.
    for (const kind of ['clicks', 'orders', 'delivery', 'claims', 'claim-rows'] as const) {
      const rows = files[kind]
      if (rows.length === 0) continue
      const columns = [...new Set(rows.flatMap(Object.keys))]
      await deliverFile(kind, writeCsv(columns, rows))
    }
    for (const kind of ['delivery', 'claims'] as const)
      keepReport(join(folder, 'market', `${kind}.csv`), files[kind])
    save(clock)
    return formatDay(parseDay(clock.end)! + clock.days.length)
  }
  return { today, goOn }
}

/** What the networks let their customers download has the new days as well. */
function keepReport(file: string, rows: readonly Record<string, string | number>[]): void {
  if (rows.length === 0 || !existsSync(file)) return
  const header = Papa.parse<string[]>(readFileSync(file, 'utf8'), { preview: 1 }).data[0] ?? []
  const text = writeCsv(header, rows as Record<string, string | number>[])
  appendFileSync(file, text.slice(text.indexOf('\n') + 1))
}
