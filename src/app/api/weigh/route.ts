import { readAddress } from '@/app/frame'
import { ask } from '@/server/compute/ask'
import { answering } from '../answering'
import { besideRecords } from '../weighQuestion'

export const dynamic = 'force-dynamic'

/** The ad sets and ads of Weigh, which follow its campaigns: `?network=&from=&to=&result=`; with
 * `&beside=before&of=before` those of as many days before. */
export const GET = answering(async request => {
  const query = Object.fromEntries(new URL(request.url).searchParams)
  const { workspace, period, before, scope, result } = await readAddress(query)
  const days = (query.of === 'before' && before) || period
  const question = { period: days, scope, ...(await besideRecords(workspace)) }
  return new Response(await ask(workspace, 'weighBelow', question, result, request.signal), {
    headers: { 'content-type': 'application/json' },
  })
})
