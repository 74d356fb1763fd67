import { readAddress } from '@/app/frame'
import { formatDay } from '@/core/shared/days'
import { sharedDatabase } from '@/data/connect'
import { listSourceClicks, type SourceKind, sourceColumns } from '@/data/links'

export const dynamic = 'force-dynamic'

const MOST = 100
const kinds = Object.keys(sourceColumns) as SourceKind[]

/** The clicks of a line of sources, those with an order first: `?by=&of=NETWORK&value=&value=&from=&to=`. */
export async function GET(request: Request): Promise<Response> {
  const query = new URL(request.url).searchParams
  const kind = kinds.find(k => k === query.get('by'))
  const network = query.get('of')
  if (!kind || !network)
    return Response.json({ error: `Say by (${kinds.join(', ')}) and of which network.` }, { status: 400 })
  const { workspace, period } = await readAddress(Object.fromEntries(query))
  const span = { from: formatDay(period.from), to: formatDay(period.to) }
  const values = query.getAll('value')
  return Response.json(
    await listSourceClicks(sharedDatabase(), workspace, kind, { ...span, network, values }, MOST),
  )
}
