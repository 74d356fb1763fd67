import { workspaceHere } from '@/app/frame'
import { sharedDatabase } from '@/data/connect'
import { stationText } from '@/server/links/station'
import { answering } from '../answering'

export const dynamic = 'force-dynamic'

/** Every campaign, ad set and ad, the tag plans, and what links are made from. */
export const GET = answering(async () => {
  const text = await stationText(sharedDatabase(), await workspaceHere())
  return new Response(text, { headers: { 'content-type': 'application/json' } })
})
