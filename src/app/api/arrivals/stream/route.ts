import { workspaceHere } from '@/app/frame'
import { sharedDatabase } from '@/data/connect'
import { findWorkspace } from '@/data/workspace'
import { answering } from '../../answering'

export const dynamic = 'force-dynamic'
const LOOK_EVERY_MS = 400

/** Server-sent events: how far the workspace's arrivals are, whenever something has arrived. */
export const GET = answering(async request => {
  const { id } = await workspaceHere()
  const text = new TextEncoder()
  let ended = false
  const stream = new ReadableStream<Uint8Array>({
    async start(to) {
      let told = -1
      while (!ended && !request.signal.aborted) {
        const version = (await findWorkspace(sharedDatabase(), id).catch(() => null))?.feed ?? told
        if (version !== told && !ended) to.enqueue(text.encode(`data: ${version}\n\n`))
        told = version
        await new Promise(next => setTimeout(next, LOOK_EVERY_MS))
      }
      if (!ended) to.close()
    },
    cancel() {
      ended = true
    },
  })
  return new Response(stream, {
    headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store, no-transform' },
  })
})
