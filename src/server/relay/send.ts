import { type IncomingMessage, request as requestHttp } from 'node:http'
import { request as requestHttps } from 'node:https'
import { cleanText } from '@/core/shared/text'
import { afterTry, fillOutgoing, type OutgoingRequest } from '@/core/signals/outgoing'
import type { Database } from '@/data/connect'
import { leaseRelays, type Relay, relayMark, relaySecret, settleRelay } from '@/data/relays'
import { listProfiles } from '@/data/workspace'
import { addressOf } from '../outside'
import { noteFailure, noteSuccess } from '../standing'
import { WORKSPACE } from '../workspace'
import { queueArrived } from './queue'

const AT_ONCE = 20
const LONGEST_MS = 10_000
const LONGEST_ANSWER = 400

interface Answer {
  status: number | null
  said: string
  /** seconds that the network asks us to wait */
  wait: number | null
}

/** Sends what is due, and settles each by the network's answer. Gives how many were sent. */
export async function sendDue(database: Database): Promise<number> {
  const due = await leaseRelays(database, AT_ONCE)
  await Promise.all(due.map(relay => sendOne(database, relay)))
  return due.length
}

const nobody = (said: string): Answer => ({ status: null, said, wait: null })

async function sendOne(database: Database, relay: Relay): Promise<void> {
  const profile = (await listProfiles(database, relay.workspace)).find(p => p.id === relay.network)
  const at = Date.now()
  const secret = (await relaySecret(database, relay.workspace, relay.network)) ?? ''
  // What cannot be sent at all is a try as well: it is counted, and shown with why.
  const answer: Answer = profile?.outgoing
    ? await ask(
        fillOutgoing(profile.outgoing, { ...relay.facts, account: profile.account ?? '', secret }),
      ).catch(error => nobody(`It cannot be sent: ${error instanceof Error ? error.message : error}`))
    : nobody('The network has no outgoing request any more.')
  const said = cleanText(secret ? answer.said.replaceAll(secret, '{secret}') : answer.said)
  const tries = [...relay.tries, { at, status: answer.status, said }]
  const after = afterTry({ at, status: answer.status }, tries.length, answer.wait, Math.random())
  await settleRelay(
    database,
    relay,
    after.state,
    after.state === 'waiting' ? Math.max(0, Math.round(after.next - at)) : null,
    tries,
  )
}

/** One request to a network, at a public address or on the practice ground. */
async function ask({ method, address, headers, body }: OutgoingRequest): Promise<Answer> {
  if (!URL.canParse(address)) return nobody('The address cannot be read.')
  const url = new URL(address)
  const found = await addressOf(url, host => host.endsWith('.localhost'))
  if (found.address === null)
    return nobody(
      found.problem === 'unknown'
        ? `${url.hostname} cannot be found.`
        : `${url.hostname} is not on the public internet: nothing is sent there.`,
    )
  return new Promise(done => {
    const send = url.protocol === 'https:' ? requestHttps : requestHttp
    const sent = send(
      {
        host: found.address,
        port: url.port || undefined,
        servername: url.hostname,
        path: url.pathname + url.search,
        method,
        headers: { ...headers, host: url.host, 'content-length': Buffer.byteLength(body) },
        timeout: LONGEST_MS,
      },
      (response: IncomingMessage) => {
        let said = ''
        response.setEncoding('utf8')
        response.on('data', (chunk: string) => {
          if (said.length < LONGEST_ANSWER) said += chunk.slice(0, LONGEST_ANSWER - said.length)
        })
        response.on('end', () => {
          const wait = secondsToWait(response.headers['retry-after'], Date.now())
          done({ status: response.statusCode ?? null, said, wait })
        })
        response.on('error', error => done(nobody(error.message)))
      },
    )
    sent.on('timeout', () => sent.destroy(new Error(`no answer within ${LONGEST_MS / 1000} seconds`)))
    sent.on('error', error => done(nobody(`${url.host}: ${error.message}`)))
    sent.end(body)
  })
}

/** What a `Retry-After` asks for (RFC 9110, 10.2.3): seconds, or an instant; null where it says neither. */
export function secondsToWait(header: string | undefined, now: number): number | null {
  if (!header) return null
  if (/^\d+$/.test(header.trim())) return Number(header)
  const until = Date.parse(header)
  return Number.isNaN(until) ? null : Math.max(0, Math.ceil((until - now) / 1000))
}

const IDLE_MS = 500
/** How long is sent before it is looked whether more has arrived. */
const SENDING_MS = 3000

/**
 * Queues what has arrived, where anything has, and sends all that is due.
 *
 * @param seen the mark of what had arrived the last time
 * @param beat hears now and then that it goes on
 * @returns the mark now, and how long to wait before the next time, in ms
 */
export async function relayOnce(
  database: Database,
  workspace: string,
  seen: string,
  beat: () => void = () => {},
): Promise<{ seen: string; pause: number }> {
  const mark = await relayMark(database)
  const began = Date.now()
  if (mark !== seen) await queueArrived(database, workspace, began, beat)
  // After much has arrived others come first: at most a fifth of the database's time is the relay's.
  const pause = Math.max(IDLE_MS, 4 * (Date.now() - began))
  // What is due may be more than can be sent: what arrives meanwhile is queued all the same, and comes first.
  const until = performance.now() + SENDING_MS
  let more = true
  while (more && performance.now() < until) {
    more = (await sendDue(database)) === AT_ONCE
    beat()
  }
  return { seen: mark, pause: more ? 0 : pause }
}

/** Queues and sends for as long as the process lives. A failure is said once and tried again. */
export async function relayForever(database: Database): Promise<never> {
  let seen = ''
  for (;;) {
    let pause = IDLE_MS
    try {
      ;({ seen, pause } = await relayOnce(database, WORKSPACE, seen, () => noteSuccess('relay')))
    } catch (error) {
      pause = 2000
      noteFailure('relay', 'The relay failed; it is tried again.', error, Date.now())
    }
    await new Promise(next => setTimeout(next, pause))
  }
}
