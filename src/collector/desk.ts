import type { IncomingMessage, ServerResponse } from 'node:http'
import { join } from 'node:path'
import type { Arrival } from '@/core/intake/arrival'
import { TEST_PARAMETER } from '@/core/intake/routing'
import { journalFolder, journalId } from '@/formats/journalFolder'
import { mintId } from './ids'
import { Journal } from './journal'
import { createMetrics, type Kind } from './metrics'
import { answer, bodyOf, Refused } from './respond'
import { watchRouting } from './routing'
import { isSame } from './secrets'
import { classOf, type Limits, limitSenders, senderOf } from './sender'

/** What every request is served with: where things lead, the journal, and what is counted of both. */
export type Desk = ReturnType<typeof createDesk>

export function createDesk(folder: string, behindProxy: boolean, limits: Limits) {
  const may = limitSenders(limits)
  const metrics = createMetrics(() => journal)
  const journal = new Journal(journalFolder(folder), metrics.wrote)
  const routing = watchRouting(join(folder, 'routing.json'))
  let notRecorded = 0

  /** What every record begins with. */
  const envelope = (request: IncomingMessage, at: number, workspace: string) => ({
    id: mintId(at),
    at,
    workspace,
    from: classOf(senderOf(request, behindProxy), routing.keys()?.address),
    agent: (request.headers['user-agent'] ?? '').slice(0, 512),
  })

  /** Refuses a sender who does too much. */
  async function allow(request: IncomingMessage, what: keyof Limits, points?: number): Promise<void> {
    const allowed = may(senderOf(request, behindProxy), what, points)
    if (allowed !== true && !(await allowed))
      throw new Refused(429, `Too many ${what} from this address. Try again in a minute.`)
  }

  /** A body, read no further than it may be long, and counted against its sender. */
  async function bodyFrom(request: IncomingMessage, most: number): Promise<string> {
    const body = await bodyOf(request, most)
    await allow(request, 'bytes', body.length)
    return body
  }

  /** Whether somebody may know how the collector is: on this machine, or by the key that the application has. */
  const mayAsk = (request: IncomingMessage): boolean => {
    const key = routing.keys()?.status
    const given = /^Bearer (\S+)$/i.exec(request.headers.authorization ?? '')?.[1]
    return (
      senderOf(request, behindProxy).limitedAs === null ||
      (given !== undefined && key !== undefined && isSame(given, key))
    )
  }

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
  return {
    behindProxy,
    routing,
    metrics,
    allow,
    bodyFrom,
    mayAsk,
    envelope,
    record,
    recordStep,
    testOf,
    tellHealth,
    close,
  }
}
