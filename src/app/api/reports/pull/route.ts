import { askPractice, hasPractice } from '@/server/practice'
import { answering } from '../../answering'

export const dynamic = 'force-dynamic'

/** The report of a practice network, `?network=ID&from=DATE&to=DATE`, as it gives it. */
export const GET = answering(async request => {
  const given = new URL(request.url).searchParams
  const network = given.get('network') ?? ''
  const period = new URLSearchParams({ from: given.get('from') ?? '', to: given.get('to') ?? '' })
  const refuse = (status: number, error: string) => Response.json({ error }, { status })
  if (!hasPractice() || !/^[a-z0-9_-]{1,40}$/.test(network))
    return refuse(404, 'Only the networks of the practice ground can be asked. It runs with the demo.')
  const answer = await askPractice(network, `/report.csv?${period}`)
  if (!answer) return refuse(502, 'The practice ground does not answer. Start the demo again.')
  if (answer.status !== 200) return refuse(404, `${network} gives no report.`)
  return new Response(answer.body, { headers: { 'content-type': 'text/csv; charset=utf-8' } })
})
