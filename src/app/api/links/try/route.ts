import * as z from 'zod'
import { workspaceHere } from '@/app/frame'
import { tryLink } from '@/server/links/tryLink'

export const dynamic = 'force-dynamic'

/** Follows a link hop by hop: `{ address }`. */
export async function POST(request: Request): Promise<Response> {
  if (!request.headers.get('content-type')?.startsWith('application/json'))
    return Response.json({ error: 'Send { address } as application/json.' }, { status: 415 })
  const read = z.object({ address: z.string().max(8192) }).safeParse(await request.json().catch(() => null))
  if (!read.success) return Response.json({ error: 'Say which address: { address }.' }, { status: 400 })
  return Response.json(await tryLink(await workspaceHere(), read.data.address))
}
