import { workspaceHere } from '@/app/frame'
import { sharedDatabase } from '@/data/connect'
import { compareWorkspaceFile, readWorkspaceFile, takeWorkspaceFile } from '@/server/workspaceFile'
import { answering, Refused, readBody } from '../../answering'

export const dynamic = 'force-dynamic'
const MOST_BYTES = 20 * 1024 * 1024
type Context = { params: Promise<{ step: string }> }

/** Says what a workspace's file would change (`compare`), or takes it in (`take`), `?exact=yes` with nothing beside it. */
export const POST = answering<Context>(async (request, { params }) => {
  const { step } = await params
  const file = readWorkspaceFile(new TextDecoder().decode(await readBody(request, MOST_BYTES)))
  if ('problem' in file) throw new Refused(400, file.problem)
  const workspace = await workspaceHere()
  if (step === 'compare') return Response.json(await compareWorkspaceFile(sharedDatabase(), workspace, file))
  if (step !== 'take') throw new Refused(404, 'There are the steps compare and take.')
  const exact = new URL(request.url).searchParams.get('exact') === 'yes'
  const outcome = await takeWorkspaceFile(sharedDatabase(), workspace, file, exact)
  if ('problem' in outcome) throw new Refused(409, outcome.problem)
  return Response.json(outcome)
})
