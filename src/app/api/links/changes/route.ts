import * as z from 'zod'
import { workspaceHere } from '@/app/frame'
import { linkChangeSchema } from '@/core/links/change'
import { sharedDatabase } from '@/data/connect'
import { changeLinks } from '@/server/links/changes'
import { tooLarge } from '../../upload'

export const dynamic = 'force-dynamic'

const MOST_CHANGES = 50_000

/** Changes of tag plans and of where ads lead, all or none: a JSON array, as the station makes them. */
export async function POST(request: Request): Promise<Response> {
  // A page of another site cannot send JSON without asking first.
  if (!request.headers.get('content-type')?.startsWith('application/json'))
    return Response.json({ error: 'Send the changes as application/json.' }, { status: 415 })
  const refused = tooLarge(request)
  if (refused) return refused
  const read = z
    .array(linkChangeSchema)
    .max(MOST_CHANGES)
    .safeParse(await request.json().catch(() => null))
  if (!read.success) return Response.json({ error: z.prettifyError(read.error) }, { status: 400 })
  const { id } = await workspaceHere()
  const met = await changeLinks(sharedDatabase(), id, read.data)
  return Response.json({ changed: read.data.length, met })
}
