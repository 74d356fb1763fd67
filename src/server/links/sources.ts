import { WHOLE } from '@/core/evidence/place'
import { type SourceKind, type SourceLine, sourceLines } from '@/core/links/sources'
import { type Period, spanOf } from '@/core/shared/days'
import type { ProvenCredit } from '@/core/weigh/credits'
import type { Database } from '@/data/connect'
import { countSources, findClickSources, listSourceClicks } from '@/data/sources'

interface Asked {
  kind: SourceKind
  period: Period
  /** the workspace's IANA zone, in which the period's days are */
  zone: string
  network?: string | undefined
  /** the proven credits of the period, of that network or of all */
  credits: readonly ProvenCredit[]
}

const clicksOf = (credits: readonly ProvenCredit[]) =>
  credits.map(({ clickId, clickedAt }) => ({ id: clickId, at: clickedAt }))

/** Clicks and proven orders by source, keyword, placement or device; most clicks first. */
export async function gatherSources(
  database: Database,
  workspace: string,
  { kind, period, zone, network, credits }: Asked,
): Promise<SourceLine[]> {
  const counted = await countSources(database, workspace, kind, { ...spanOf(period, zone), network })
  const found = await findClickSources(database, workspace, kind, clicksOf(credits))
  return sourceLines(counted, credits, id => found.get(id)?.values ?? null)
}

export interface SourceClick {
  id: string
  /** epoch ms */
  at: number
  /** its name */
  ad: string | null
  /** clicked before the period, in which its order was placed: the line does not count it */
  earlier: boolean
  /** the order that it is proven to have brought, or its part of it: `share` of one, worth minor units */
  order: { id: string; share: number; value: number } | null
}

/** The clicks behind a line: those that brought orders, then the latest others. */
export async function openSource(
  database: Database,
  workspace: string,
  { kind, period, zone, network, credits, values }: Asked & { network: string; values: readonly string[] },
  most: number,
): Promise<SourceClick[]> {
  const span = spanOf(period, zone)
  const found = await findClickSources(database, workspace, kind, clicksOf(credits))
  const same = JSON.stringify(values)
  const brought = credits.flatMap(({ clickId, clickedAt, orderId, share, value }) => {
    const click = found.get(clickId)
    return click && JSON.stringify(click.values) === same
      ? [
          {
            id: clickId,
            at: clickedAt,
            ad: click.ad,
            earlier: clickedAt < span.from,
            order: { id: orderId, share: share / WHOLE, value },
          },
        ]
      : []
  })
  const others = await listSourceClicks(
    database,
    workspace,
    kind,
    { ...span, network, values },
    brought.map(click => click.id),
    Math.max(0, most - brought.length),
  )
  return [
    ...brought.sort((a, b) => b.at - a.at),
    ...others.map(click => ({ ...click, earlier: false, order: null })),
  ]
}
