import { workspaceHere } from '@/app/frame'
import { sharedDatabase } from '@/data/connect'
import { stationText } from '@/server/links/station'

export const dynamic = 'force-dynamic'

/** Every campaign, ad set and ad, the tag plans, and what links are made from. */
export async function GET(): Promise<Response> {
  const text = await stationText(sharedDatabase(), await workspaceHere())
  return new Response(text, { headers: { 'content-type': 'application/json' } })
}
