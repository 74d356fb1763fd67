import { workspaceHere } from '@/app/frame'
import { sharedDatabase } from '@/data/connect'
import { undo } from '@/server/decisions'
import { answering, Refused } from '../../answering'

export const dynamic = 'force-dynamic'

/** Takes back what was settled by hand. */
export const DELETE = answering<{ params: Promise<{ id: string }> }>(async (_, { params }) => {
  const { id: workspace } = await workspaceHere()
  const { id } = await params
  if (!(await undo(sharedDatabase(), workspace, id, Date.now())))
    throw new Refused(404, `There is no decision "${id}" that holds.`)
  return Response.json({ undone: id })
})
