import { readAddress } from '@/app/frame'
import { ask } from '@/server/compute/ask'
import { answering } from '../../answering'
import { askedResult } from '../../askedResult'

export const dynamic = 'force-dynamic'

/** The days on which capture or the real cost changed, of all days: `?network=&result=`. */
export const GET = answering(async request => {
  const query = new URL(request.url).searchParams
  const { workspace, scope, span } = await readAddress(Object.fromEntries(query))
  if (!span) return Response.json([])
  const result = await askedResult(query, workspace)
  return Response.json(await ask(workspace, 'turns', { period: span, scope }, result, request.signal))
})
