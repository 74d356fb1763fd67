import type { IncomingMessage, ServerResponse } from 'node:http'
import { join } from 'node:path'
import type { Arrival } from '@/core/intake/arrival'
import { TEST_PARAMETER } from '@/core/intake/routing'
import { journalFolder, journalId } from '@/formats/journalFolder'
import { mintId } from './ids'
import { Journal } from './journal'
import { createMetrics, type Kind } from './metrics'
import { answer, Refused } from './respond'
import { watchRouting } from './routing'
import { senderOf } from './sender'

/** What every request is served with: where things lead, the journal, and what is counted of both. */
export type Desk = ReturnType<typeof createDesk>

export function createDesk(folder: string, behindProxy: boolean) {
  const metrics = createMetrics(() => journal)
  const journal = new Journal(journalFolder(folder), metrics.wrote)
  const routing = watchRouting(join(folder, 'routing.json'))
  let notRecorded = 0

  /** What every record begins with. */
  const envelope = (request: IncomingMessage, at: number, workspace: string) => ({
    id: mintId(at),
    at,
    workspace,
    from: senderOf(request, behindProxy).network,
    agent: (request.headers['user-agent'] ?? '').slice(0, 512),
  })

  /** Records a shopper's step. They must not pay for a full disk: they go on, and the loss is counted. */
  async function recordStep(kind: 'click' | 'hop', record: Arrival): Promise<void> {
    try {
      await journal.append(record)
      metrics.count(kind, 'recorded')
    } catch (error) {
      notRecorded += 1
      metrics.count(kind, 'not_recorded')
      if (notRecorded === 1) console.error('The journal cannot be written.', error)
    }
  }

  /** Whoever sends these can send again: what is not on disk is not acknowledged. */
  async function record(kind: Exclude<Kind, 'click' | 'hop'>, records: Arrival[]): Promise<void> {
    try {
      await journal.append(...records)
      metrics.count(kind, 'recorded', records.length)
    } catch {
      throw new Refused(503, 'It cannot be written at the moment. Send it again later.')
    }
  }

  /** The live test that an address says it belongs to, if there is one. */
  function testOf(workspace: string, query: string): string | undefined {
    if (!query.includes(TEST_PARAMETER)) return undefined
    const token = new URLSearchParams(query).get(TEST_PARAMETER) ?? ''
    return routing.isTest(workspace, token) ? token : undefined
  }

  /** The journal's ID, or null while its folder cannot be written. */
  const journalName = () => {
    try {
      return journalId(journalFolder(folder))
    } catch {
      return null
    }
  }
  const tellHealth = (response: ServerResponse) =>
    answer(
      response,
      200,
      JSON.stringify({
        status: journal.failing ? 'disk' : 'ok',
        journal: journalName(),
        records: journal.records,
        notRecorded,
      }),
      { 'content-type': 'application/json' },
    )
  const close = () => journal.close()
  return { behindProxy, routing, metrics, envelope, record, recordStep, testOf, tellHealth, close }
}
