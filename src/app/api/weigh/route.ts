import { readAddress } from '@/app/frame'
import { ask } from '@/server/compute/ask'

export const dynamic = 'force-dynamic'

/** The ad sets and ads of Weigh, which follow its campaigns: `?network=&from=&to=`. */
export async function GET(request: Request): Promise<Response> {
  const query = Object.fromEntries(new URL(request.url).searchParams)
  const { workspace, period, scope } = await readAddress(query)
  return new Response(await ask(workspace, 'weighBelow', { period, scope }), {
    headers: { 'content-type': 'application/json' },
  })
}
