import { readAddress } from '@/app/frame'
import { ask } from '@/server/compute/ask'
import { answering, Refused } from '../../answering'

export const dynamic = 'force-dynamic'

/** What those of whom a result came about later bought: `?result=&days=`; null where nobody's days are over. */
export const GET = answering(async request => {
  const query = Object.fromEntries(new URL(request.url).searchParams)
  const { workspace, result } = await readAddress(query)
  const days = Number(query.days ?? 30)
  if (!Number.isInteger(days) || days < 1 || days > 365)
    throw new Refused(400, 'days is a number from 1 to 365.')
  return Response.json(await ask(workspace, 'laterWorth', { days }, result, request.signal))
})
