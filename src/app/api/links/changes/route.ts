import * as z from 'zod'
import { workspaceHere } from '@/app/frame'
import { linkChangeSchema } from '@/core/links/change'
import { sharedDatabase } from '@/data/connect'
import { changeLinks } from '@/server/links/changes'
import { answering, readJson } from '../../answering'

export const dynamic = 'force-dynamic'

const MOST_CHANGES = 50_000

/** Changes of tag plans and of where ads lead, all or none: a JSON array, as the station makes them. */
export const POST = answering(async request => {
  const read = z
    .array(linkChangeSchema)
    .max(MOST_CHANGES)
    .safeParse(await readJson(request))
  if (!read.success) return Response.json({ error: z.prettifyError(read.error) }, { status: 400 })
  const { id } = await workspaceHere()
  const others = await changeLinks(sharedDatabase(), id, read.data)
  return Response.json({ changed: read.data.length, met: others.length, others })
})
