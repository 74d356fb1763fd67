import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { routingSchema } from '@/core/intake/routing'
import { dataFolder } from '@/formats/dataFolder'
import { journalFolder, journalId } from '@/formats/journalFolder'
import { trackingOrigin } from './routes'

/** One thing that is asked of the tracking domain, and what came of it. */
export interface TrackingStep {
  what: 'encrypted' | 'answers' | 'ours' | 'tag' | 'code' | 'order'
  /** null where an earlier step keeps it from being known */
  good: boolean | null
  said: string
}

const ANSWER_MS = 4000
const ask = (path: string, init: RequestInit = {}) =>
  fetch(`${trackingOrigin()}${path}`, {
    redirect: 'manual',
    signal: AbortSignal.timeout(ANSWER_MS),
    ...init,
  }).catch((error: unknown) => {
    const cause = error instanceof Error && error.cause instanceof Error ? error.cause.message : null
    return cause ?? (error instanceof Error ? error.message : String(error))
  })

/** By which collectors tell from elsewhere how they are; empty before a routing table is written. */
function statusKey(): string {
  try {
    const table = readFileSync(join(dataFolder(), 'routing.json'), 'utf8')
    return routingSchema.parse(JSON.parse(table)).keys?.status ?? ''
  } catch {
    return ''
  }
}

/** Asks the tracking domain as shoppers and the site would, step by step. Nothing that counts is written. */
export async function checkTracking(site: string): Promise<TrackingStep[]> {
  const { protocol, hostname } = new URL(trackingOrigin())
  const isLocal = hostname === 'localhost' || hostname.endsWith('.localhost') || hostname.startsWith('127.')
  const steps: TrackingStep[] = [
    {
      what: 'encrypted',
      good: protocol === 'https:' || isLocal,
      said:
        protocol === 'https:'
          ? 'by TLS'
          : isLocal
            ? 'on this machine, where nothing needs to be encrypted'
            : 'not encrypted: browsers keep pages that are from loading the tag',
    },
  ]
  const add = (what: TrackingStep['what'], good: boolean | null, said: string) =>
    steps.push({ what, good, said })
  const health = await ask('/health', { headers: { authorization: `Bearer ${statusKey()}` } })
  const read = typeof health === 'string' ? null : await health.json().catch(() => null)
  const answers = typeof health !== 'string' && health.ok && typeof read?.status === 'string'
  add(
    'answers',
    answers && read.status === 'ok',
    typeof health === 'string'
      ? `nothing answers there: ${health}`
      : !answers
        ? `something else answers there, with ${health.status}: no collector`
        : read.status === 'ok'
          ? 'a collector answers, and its disk takes what comes'
          : `a collector answers; it says “${read.status}”`,
  )
  if (!answers) return steps
  const own = journalId(journalFolder(dataFolder()))
  add(
    'ours',
    read.journal === own,
    read.journal === own
      ? 'it writes into the journal that is read here'
      : 'it writes into another journal than the one that is read here: what it hears does not arrive',
  )
  const tag = await ask(`/aq.js?site=${site}`)
  add(
    'tag',
    typeof tag !== 'string' && tag.ok,
    typeof tag === 'string'
      ? tag
      : tag.ok
        ? 'it gives out the tag'
        : `the tag is answered with ${tag.status}`,
  )
  const code = await ask('/c/no-such-code')
  const isAnswered = typeof code !== 'string' && (code.status === 404 || code.status === 302)
  add(
    'code',
    isAnswered,
    typeof code === 'string'
      ? code
      : code.status === 302
        ? 'an unknown code is led to the address that Routes say'
        : code.status === 404
          ? 'an unknown code is answered by a plain page'
          : `a code is answered with ${code.status}`,
  )
  const order = await ask(`/o/${site}`, { method: 'POST', body: '{}' })
  add(
    'order',
    typeof order !== 'string' && order.status === 401,
    typeof order === 'string'
      ? order
      : order.status === 401
        ? 'an order without a signature is refused, as it should be'
        : `an order without a signature is answered with ${order.status}`,
  )
  return steps
}
