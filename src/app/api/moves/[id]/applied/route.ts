import { workspaceHere } from '@/app/frame'
import { sharedDatabase } from '@/data/connect'
import { applyMoves, atNetworkSchema } from '@/server/moves'
import { answering, Refused, readJson } from '../../../answering'

export const dynamic = 'force-dynamic'

/** Applies moves at a practice network, which serves by them from then on. */
export const POST = answering<{ params: Promise<{ id: string }> }>(async (request, { params }) => {
  const { id } = await params
  const read = atNetworkSchema.safeParse(await readJson(request, 1000))
  if (!read.success) throw new Refused(400, 'Say at which network: { "network": ID }.')
  const { network } = read.data
  const problem = await applyMoves(sharedDatabase(), await workspaceHere(), id, network, Date.now())
  if (problem) throw new Refused(409, problem)
  return Response.json({ applied: id, network })
})
