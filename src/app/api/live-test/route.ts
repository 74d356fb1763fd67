import { workspaceHere } from '@/app/frame'
import { sharedDatabase } from '@/data/connect'
import { describeTest } from '@/server/signals/liveTest'
import { answering } from '../answering'

export const dynamic = 'force-dynamic'

/** The latest live test as far as it has come. */
export const GET = answering(async () => {
  const { id } = await workspaceHere()
  return Response.json(await describeTest(sharedDatabase(), id))
})
