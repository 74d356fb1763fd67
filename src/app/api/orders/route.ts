import { workspaceHere } from '@/app/frame'
import { sharedDatabase } from '@/data/connect'
import { takeOrderMessage } from '@/server/orderWebhook'
import { answering, readBody } from '../answering'

export const dynamic = 'force-dynamic'
const LONGEST_BODY = 100_000

/** One order of the shop, signed by the Standard Webhooks specification. */
export const POST = answering(async request => {
  const body = new TextDecoder().decode(await readBody(request, LONGEST_BODY))
  const { status, ...answer } = await takeOrderMessage(
    sharedDatabase(),
    await workspaceHere(),
    body,
    Object.fromEntries(request.headers),
  )
  return Response.json(answer, { status })
})
