import { sharedDatabase } from '@/data/connect'
import { writeMetrics } from '@/server/metrics'
import { answering } from '../answering'

export const dynamic = 'force-dynamic'

/** The state of the application's work in the OpenMetrics text format; in plain text where that is asked for. */
export const GET = answering(async request => {
  const { type, text } = await writeMetrics(sharedDatabase(), request.headers.get('accept') ?? undefined)
  return new Response(text, { headers: { 'content-type': type, 'cache-control': 'no-store' } })
})
