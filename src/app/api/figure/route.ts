import { readAddress, SHARED_SPEND } from '@/app/frame'
import { figures } from '@/core/weigh/openings'
import { ask } from '@/server/compute/ask'
import { answering } from '../answering'

export const dynamic = 'force-dynamic'

/** The orders and claims behind a figure: `?figure=&network=&campaign=&ad_set=&ad=&part=&value=&nowhere=&from=&to=&skip=&result=`; with
 * `&spend=by_clicks` with spend that no report splits by the part shared out by clicks, with
 * `&days=billed` without the days of which its network has not told yet what it spent. */
export const GET = answering(async request => {
  const query = Object.fromEntries(new URL(request.url).searchParams)
  const figure = figures.find(f => f === query.figure)
  if (!figure) return Response.json({ error: `figure is one of ${figures.join(', ')}.` }, { status: 400 })
  const { workspace, period, result } = await readAddress(query)
  const { network, campaign, ad_set, ad, part, value } = query
  const nowhere = query.nowhere === 'yes' ? 'yes' : undefined
  return Response.json(
    await ask(
      workspace,
      'figure',
      {
        period,
        scope: { network, campaign, ad_set, ad, part, value, nowhere },
        figure,
        shared: query.spend === SHARED_SPEND,
        days: query.days === 'billed' ? 'billed' : 'all',
        skip: Math.max(0, Math.trunc(Number(query.skip ?? 0)) || 0),
      },
      result,
      request.signal,
    ),
  )
})
