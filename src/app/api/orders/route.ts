import { workspaceHere } from '@/app/frame'
import { sharedDatabase } from '@/data/connect'
import { takeOrderMessage } from '@/server/orderWebhook'

export const dynamic = 'force-dynamic'
const LONGEST_BODY = 100_000

/** One order of the shop, signed by the Standard Webhooks specification. */
export async function POST(request: Request): Promise<Response> {
  const body = await request.text()
  if (body.length > LONGEST_BODY)
    return Response.json({ error: `A message holds at most ${LONGEST_BODY} bytes.` }, { status: 413 })
  const { status, ...answer } = await takeOrderMessage(
    sharedDatabase(),
    await workspaceHere(),
    body,
    Object.fromEntries(request.headers),
  )
  return Response.json(answer, { status })
}
