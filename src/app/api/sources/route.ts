import { workspaceHere } from '@/app/frame'
import { mayBeNetwork } from '@/core/links/networkTemplates'
import { ask } from '@/server/compute/ask'
import { answering } from '../answering'

export const dynamic = 'force-dynamic'

/** The sources that orders carry and that name no network yet, those left out that are hardly one. */
export const GET = answering(async () => {
  const sources = await ask((await workspaceHere()).id, 'unknownSources', null)
  return Response.json(sources.filter(({ source }) => mayBeNetwork(source)))
})
