import { workspaceHere } from '@/app/frame'
import { sharedDatabase } from '@/data/connect'
import { wayOf } from '@/server/arrivals/way'
import { answering } from '../../answering'

export const dynamic = 'force-dynamic'

/** All that one click led to, in order of time: `?click=`. */
export const GET = answering(async request => {
  const click = new URL(request.url).searchParams.get('click')
  if (!click) return Response.json({ error: 'Say which click: ?click=ID.' }, { status: 400 })
  const { id } = await workspaceHere()
  return Response.json(await wayOf(sharedDatabase(), id, click))
})
