import { workspaceHere } from '@/app/frame'
import { parsePeriod } from '@/core/shared/days'
import { ask } from '@/server/compute/ask'
import { answering, Refused } from '../answering'
import { askedResult } from '../askedResult'

export const dynamic = 'force-dynamic'

/** What changed between two periods, as `aequant compare --json` gives it. */
export const GET = answering(async request => {
  const query = new URL(request.url).searchParams
  const [first, second] = ['first', 'second'].map(key => parsePeriod(query.get(key) ?? ''))
  if (!first || !second)
    throw new Refused(400, 'first and second are periods as 2026-10-01..2026-10-14, both days included.')
  const { id } = await workspaceHere()
  const [network, campaign] = ['network', 'campaign'].map(key => query.get(key) || undefined)
  const question = { first, second, network, campaign }
  const answer = await ask(id, 'compare', question, await askedResult(query, id), request.signal)
  if ('nothing' in answer) throw new Refused(400, answer.nothing)
  return Response.json(answer)
})
