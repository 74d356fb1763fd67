import { workspaceHere } from '@/app/frame'
import { fresh } from '@/server/compute/latest'
import { answering } from '../../answering'

export const dynamic = 'force-dynamic'

const FRESH_MS = 2000

/** What arrived of every planned parameter in the last days; with `by=ad`, of each ad's. */
export const GET = answering(async request => {
  const { id } = await workspaceHere()
  const { ads, ...gathered } = await fresh(id, 'parameterArrivals', Date.now(), FRESH_MS)
  return Response.json(new URL(request.url).searchParams.get('by') === 'ad' ? ads : gathered)
})
