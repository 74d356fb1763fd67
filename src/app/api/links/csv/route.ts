import * as z from 'zod'
import { workspaceHere } from '@/app/frame'
import { sharedDatabase } from '@/data/connect'
import { linksCsv } from '@/server/links/exportLinks'
import { answering, readJson } from '../../answering'

export const dynamic = 'force-dynamic'

/** Ads with what stands in each field of their network, for bulk upload: `?ad=network/ID` or `?network=`, repeated. */
export const GET = answering(async request => {
  const query = new URL(request.url).searchParams
  return answer(query.getAll('ad'), query.getAll('network'))
})

/** The same for more ads than an address holds: their `network/ID` as a JSON array. */
export const POST = answering(async request => {
  const ads = z
    .array(z.string())
    .max(100_000)
    .safeParse(await readJson(request))
  if (!ads.success) return Response.json({ error: z.prettifyError(ads.error) }, { status: 400 })
  return answer(ads.data, [])
})

async function answer(ads: readonly string[], networks: readonly string[]): Promise<Response> {
  const wanted = { ads: new Set(ads), networks: new Set(networks) }
  return new Response(await linksCsv(sharedDatabase(), await workspaceHere(), wanted), {
    headers: {
      'content-type': 'text/csv; charset=utf-8',
      'content-disposition': 'attachment; filename="links.csv"',
    },
  })
}
