import { workspaceHere } from '@/app/frame'
import { sharedDatabase } from '@/data/connect'
import { writeWorkspace } from '@/server/workspaceFile'
import { answering } from '../answering'

export const dynamic = 'force-dynamic'

/** Everything that the workspace says as one JSON, which another one takes in. */
export const GET = answering(async () => {
  const workspace = await workspaceHere()
  return Response.json(await writeWorkspace(sharedDatabase(), workspace), {
    headers: { 'content-disposition': 'attachment; filename="workspace.json"' },
  })
})
