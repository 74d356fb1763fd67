import { workspaceHere } from '@/app/frame'
import { JUDGED_RESULT } from '@/core/intake/judgedResult'
import { workerOf } from '@/server/compute/ask'
import { viewsOfPages } from '@/server/compute/namesOfViews'
import { stageOf } from '@/server/compute/opening'
import { answering } from '../answering'

export const dynamic = 'force-dynamic'

/** How far the evidence has come that a page waits for: `?view=&result=`. */
export const GET = answering(async request => {
  const query = new URL(request.url).searchParams
  const view = viewsOfPages.find(name => name === query.get('view'))
  if (!view) return Response.json({ error: `view is one of ${viewsOfPages.join(', ')}.` }, { status: 400 })
  const { id } = await workspaceHere()
  return Response.json({ stage: stageOf([workerOf(view), id, query.get('result') || JUDGED_RESULT]) })
})
