import * as z from 'zod'
import { workspaceHere } from '@/app/frame'
import { tryLink } from '@/server/links/tryLink'
import { answering, readJson } from '../../answering'

export const dynamic = 'force-dynamic'

/** Follows a link hop by hop: `{ address }`. */
export const POST = answering(async request => {
  const read = z.object({ address: z.string().max(8192) }).safeParse(await readJson(request))
  if (!read.success) return Response.json({ error: 'Say which address: { address }.' }, { status: 400 })
  return Response.json(await tryLink(await workspaceHere(), read.data.address))
})
