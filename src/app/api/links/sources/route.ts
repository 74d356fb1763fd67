import { readAddress } from '@/app/frame'
import { sourceKinds } from '@/core/links/sources'
import { sharedDatabase } from '@/data/connect'
import { ask } from '@/server/compute/ask'
import { openSource } from '@/server/links/sources'
import { answering } from '../../answering'

export const dynamic = 'force-dynamic'

const MOST = 100

/** The clicks of a line of sources, those that brought an order first: `?by=&of=NETWORK&value=&value=&from=&to=`. */
export const GET = answering(async request => {
  const query = new URL(request.url).searchParams
  const kind = sourceKinds.find(k => k === query.get('by'))
  const network = query.get('of')
  if (!kind || !network)
    return Response.json(
      { error: `Say by (${sourceKinds.join(', ')}) and of which network.` },
      { status: 400 },
    )
  const { workspace, settings, period } = await readAddress(Object.fromEntries(query))
  const credits = await ask(workspace, 'provenCredits', { period, scope: { network } })
  const values = query.getAll('value')
  return Response.json(
    await openSource(
      sharedDatabase(),
      workspace,
      { kind, period, zone: settings.time_zone, network, credits, values },
      MOST,
    ),
  )
})
