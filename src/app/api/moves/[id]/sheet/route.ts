import { workspaceHere } from '@/app/frame'
import { sharedDatabase } from '@/data/connect'
import { changeSheet } from '@/server/moves'
import { answering, Refused } from '../../../answering'

export const dynamic = 'force-dynamic'

/** Moves as the change sheet of one network, in its own columns: `?network=`. */
export const GET = answering<{ params: Promise<{ id: string }> }>(async (request, { params }) => {
  const { id } = await params
  const network = new URL(request.url).searchParams.get('network') ?? ''
  const text = await changeSheet(sharedDatabase(), await workspaceHere(), id, network)
  if (text === null) throw new Refused(404, `There are no such moves at "${network}".`)
  return new Response(text, {
    headers: {
      'content-type': 'text/csv; charset=utf-8',
      'content-disposition': `attachment; filename="changes-${network.replace(/[^a-z0-9_-]/gi, '')}.csv"`,
    },
  })
})
