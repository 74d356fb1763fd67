import { workspaceHere } from '@/app/frame'
import { sharedDatabase } from '@/data/connect'
import { listDecisions } from '@/data/decisions'
import { decide } from '@/server/decisions'
import { answering, Refused, readJson } from '../answering'

export const dynamic = 'force-dynamic'

/** What was settled by hand and holds, the earliest first. */
export const GET = answering(async () => {
  const { id } = await workspaceHere()
  return Response.json(await listDecisions(sharedDatabase(), id))
})

/** Settles something by hand: what an order is, which order a claim is, which customers are one. */
export const POST = answering(async request => {
  const { id } = await workspaceHere()
  const decision = await decide(sharedDatabase(), id, await readJson(request, 20_000), Date.now())
  if (typeof decision === 'string') throw new Refused(400, decision)
  return Response.json(decision)
})
