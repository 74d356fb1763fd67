import { workspaceHere } from '@/app/frame'
import { arrivalFilterSchema } from '@/core/intake/arrivalFilter'
import { sharedDatabase } from '@/data/connect'
import { arrivalsByMinute, latestArrivals } from '@/server/arrivals/latest'
import { answering } from '../answering'

export const dynamic = 'force-dynamic'

/**
 * The latest arrivals and how many came by the minute, or none while the workspace is as the caller knows
 * it (`?version=`). `?kind=&network=&campaign=&result=&problem=` narrows them.
 */
export const GET = answering(async request => {
  const query = Object.fromEntries(new URL(request.url).searchParams)
  const workspace = await workspaceHere()
  const version = workspace.feed
  if (query.version === String(version)) return Response.json({ version, arrivals: null })
  const filter = arrivalFilterSchema.parse(query)
  const arrivals = await latestArrivals(sharedDatabase(), workspace, filter)
  const minutes = await arrivalsByMinute(sharedDatabase(), workspace.id, arrivals[0]?.at, Date.now())
  return Response.json({ version, arrivals, minutes })
})
