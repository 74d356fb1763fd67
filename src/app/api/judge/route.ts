import { workspaceHere } from '@/app/frame'
import { levels } from '@/core/intake/tree'
import { everything, parseDay } from '@/core/shared/days'
import { ask } from '@/server/compute/ask'
import { answering } from '../answering'
import { askedResult } from '../askedResult'

export const dynamic = 'force-dynamic'

/** The judgement as `aequant judge --json` gives it, for a level, period and result. */
export const GET = answering(async request => {
  const query = new URL(request.url).searchParams
  const level = levels.find(l => l === (query.get('level') || 'campaign'))
  const day = (key: 'from' | 'to') => (query.get(key) ? parseDay(query.get(key)!) : everything[key])
  const [from, to] = [day('from'), day('to')]
  if (!level) return Response.json({ error: `level is one of ${levels.join(', ')}.` }, { status: 400 })
  if (from === null || to === null || from > to)
    return Response.json({ error: 'from and to are days as YYYY-MM-DD, from not after to.' }, { status: 400 })
  const { id } = await workspaceHere()
  const result = await askedResult(query, id)
  return Response.json(await ask(id, 'judge', { period: { from, to }, level }, result, request.signal))
})
