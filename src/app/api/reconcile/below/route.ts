import { readAddress } from '@/app/frame'
import { ask } from '@/server/compute/ask'
import { answering } from '../../answering'

export const dynamic = 'force-dynamic'

/** The gap of ad sets and ads, which follows that of campaigns: `?network=&from=&to=&result=`. */
export const GET = answering(async request => {
  const query = Object.fromEntries(new URL(request.url).searchParams)
  const { workspace, period, scope, result } = await readAddress(query)
  const json = await ask(workspace, 'reconcileBelow', { period, scope }, result, request.signal)
  return new Response(json, { headers: { 'content-type': 'application/json' } })
})
