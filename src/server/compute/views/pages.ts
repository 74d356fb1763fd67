import { WHOLE } from '@/core/evidence/place'
import { inPeriod, spanOf } from '@/core/shared/days'
import type { Evidence } from '@/core/weigh/evidence'
import { judgeByPart } from '@/core/weigh/judge'
import { asSegment, segmentPart } from '@/core/weigh/segments'
import { type SplitSide, splitStand } from '@/core/weigh/splitWinner'
import { clicksOfSplit, countLandings, countOffers, type Split } from '@/data/pages'
import { listRoutes } from '@/data/workspace'
import { partedBy } from '../segmented'
import type { WorkspaceRecords } from '../workspaceRecords'
import type { Question } from './judged'

/** A landing page or an offer, with what its clicks brought; money in minor units. */
export interface PageRow {
  address: string
  /** clicks that arrived */
  arrivals: number
  /** of those, how many went on to an offer; null for an offer */
  wentOn: number | null
  /** estimated results with an 80 % interval, and what they are worth */
  results: number
  low: number
  high: number
  value: number
}

/** What a split of a code's clicks says: which side brings most for each arrival. */
export interface SplitRow {
  code: string
  network: string
  by: Split['by']
  sides: (SplitSide & { address: string; weight: number; best: number })[]
  /** further arrivals at each side that would settle it; null where it is settled or never is */
  needed: number | null
}

async function rowsOf(
  e: Evidence,
  { period, scope }: Question,
  from: WorkspaceRecords,
  kind: 'landing_page' | 'offer',
): Promise<Map<string, { results: number; low: number; high: number; value: number }>> {
  const part = segmentPart(kind)
  const rows = judgeByPart(await partedBy(e, part, from), period, part, scope.network ?? '')
  return new Map(
    rows
      .filter(row => row.level === 'part' && row.id !== '')
      .map(row => [
        row.id,
        {
          results: row.sums.estimatedTenths / 10,
          low: row.low,
          high: row.high,
          value: row.sums.estimatedValue,
        },
      ]),
  )
}

/** Landing pages and offers, and how the splits among them stand. */
export async function pagesView(e: Evidence, question: Question, from: WorkspaceRecords) {
  const { database, workspace } = from
  const { settings } = e.data
  const network = question.scope.network ?? ''
  const span = spanOf(question.period, settings.time_zone)
  const nothing = { results: 0, low: 0, high: 0, value: 0 }
  const landings = await rowsOf(e, question, from, 'landing_page')
  const offers = await rowsOf(e, question, from, 'offer')
  const seen = await countLandings(database, workspace, span, network)
  const gone = await countOffers(database, workspace, span, network)
  const landingOf = (text: string) => asSegment('landing_page', text)
  const pages = seen
    .filter(({ page }) => page !== '')
    .map(
      ({ page, arrivals, went_on }): PageRow => ({
        address: page,
        arrivals,
        wentOn: went_on,
        ...(landings.get(landingOf(page)) ?? nothing),
      }),
    )
  const routes = (await listRoutes(database)).filter(
    route => route.workspace === workspace && (network === '' || route.network === network),
  )
  const splits = routes.flatMap(route =>
    (['landings', 'offers'] as const).flatMap(by =>
      route[by].length > 1 ? [{ code: route.code, network: route.network, by, branches: route[by] }] : [],
    ),
  )
  return {
    currency: settings.currency,
    pages: pages.sort((a, b) => b.arrivals - a.arrivals),
    offers: gone
      .map(
        ({ offer, arrivals }): PageRow => ({
          address: offer,
          arrivals,
          wentOn: null,
          ...(offers.get(asSegment('offer', offer)) ?? nothing),
        }),
      )
      .sort((a, b) => b.arrivals - a.arrivals),
    splits: await Promise.all(
      splits.map(async ({ code, network: of, by, branches }): Promise<SplitRow> => {
        const sideOf = await clicksOfSplit(
          database,
          workspace,
          { code, by, addresses: branches.map(branch => branch.address) },
          span,
        )
        const sides = tallySplit(e, question, sideOf, branches.length)
        const { best, needed } = splitStand(sides)
        return {
          code,
          network: of,
          by,
          needed,
          sides: sides.map((side, i) => ({
            ...side,
            address: branches[i]!.address,
            weight: branches[i]!.weight,
            best: best[i]!,
          })),
        }
      }),
    ),
  }
}
export type PagesView = Awaited<ReturnType<typeof pagesView>>

/** What each side of a split brought, by orders that are tied to its clicks: who saw which side was drawn by lot. */
function tallySplit(
  { data, placements }: Evidence,
  { period }: Question,
  sideOf: ReadonlyMap<string, number>,
  count: number,
): SplitSide[] {
  const sides = Array.from(
    { length: count },
    (): SplitSide => ({ arrivals: 0, results: 0, worth: 0, squares: 0 }),
  )
  for (const side of sideOf.values()) sides[side]!.arrivals += 1
  data.orders.forEach((order, o) => {
    if (!order.counts || !inPeriod(order.day, period)) return
    for (const { click, share } of placements[o]!.credits) {
      const side = click < 0 ? undefined : sideOf.get(data.clicks.ids[click]!)
      if (side === undefined) continue
      const part = share / WHOLE
      sides[side]!.results += part
      sides[side]!.worth += part * order.value
      sides[side]!.squares += part * order.value ** 2
    }
  })
  return sides
}
