import { workspaceHere } from '@/app/frame'
import { sharedDatabase } from '@/data/connect'
import { takeMovesBack } from '@/server/moves'
import { answering, Refused } from '../../answering'

export const dynamic = 'force-dynamic'

/** Takes moves back; a practice network that they were applied to serves as before. */
export const DELETE = answering<{ params: Promise<{ id: string }> }>(async (_, { params }) => {
  const { id } = await params
  const problem = await takeMovesBack(sharedDatabase(), await workspaceHere(), id, Date.now())
  if (problem) throw new Refused(404, problem)
  return Response.json({ undone: id })
})
