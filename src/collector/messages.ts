import type { IncomingMessage, ServerResponse } from 'node:http'
import { LONGEST_TEXT } from '@/core/intake/arrival'
import { LONGEST_ID } from '@/core/intake/fields'
import { LONGEST_ORDER_MESSAGE, readOrderMessage } from '@/core/intake/orderMessage'
import { checkSignature } from '@/formats/signedMessage'
import type { Desk } from './desk'
import { answer, Refused } from './respond'
import { readSecret } from './secrets'

const LONGEST_BODY = 64 * 1024
const ORDER_BYTES = 4 * LONGEST_ORDER_MESSAGE

/** A partner's word of a sale, kept as it came but for its secret. */
export async function servePostback(
  desk: Desk,
  request: IncomingMessage,
  response: ServerResponse,
  code: string,
  query: string,
): Promise<void> {
  const known = desk.routing.partner(code)
  if (!known) throw new Refused(404, 'No partner has this address. Copy it again from Intake, Partners.')
  const body = request.method === 'POST' ? (await desk.bodyFrom(request, LONGEST_BODY)).trim() : ''
  const given = [query, body].filter(Boolean).join('&')
  if (given === '') throw new Refused(400, 'The postback carries no parameters.')
  if (given.length > LONGEST_TEXT) throw new Refused(413, 'The postback is too long.')
  const { trusted, query: kept } = readSecret(given, known.secret)
  if (!trusted) throw new Refused(403, 'The secret or signature is wrong or missing.')
  const base = desk.envelope(request, Date.now(), known.workspace)
  await desk.record('postback', [{ kind: 'postback', ...base, partner: known.partner, query: kept }])
  answer(response, 200, 'OK')
}

/** An order that the shop signed: what is not readable is refused while the shop still listens. */
export async function serveOrder(
  desk: Desk,
  request: IncomingMessage,
  response: ServerResponse,
  key: string,
): Promise<void> {
  const site = desk.routing.site(key)
  if (!site) throw new Refused(404, 'There is no such site. Copy the address again from Intake, Import.')
  const message = await desk.bodyFrom(request, ORDER_BYTES)
  if (message.length > LONGEST_ORDER_MESSAGE)
    throw new Refused(413, `A message holds at most ${LONGEST_ORDER_MESSAGE} characters.`)
  const headers = Object.fromEntries(
    Object.entries(request.headers).map(([name, value]) => [name, String(value)]),
  )
  const now = Date.now()
  const problem = checkSignature(message, headers, site.order_secrets, now)
  if (problem) throw new Refused(problem.status, problem.error)
  const id = headers['webhook-id'] ?? ''
  if (id.length > LONGEST_ID) throw new Refused(400, `A webhook-id has at most ${LONGEST_ID} characters.`)
  const read = readOrderMessage(message)
  if ('error' in read) throw new Refused(422, read.error)
  // The same message again is the same record: it is taken in once, and answered as the first time.
  await desk.record('order', [{ kind: 'order', ...desk.envelope(request, now, site.workspace), id, message }])
  answer(response, 200, JSON.stringify({ order: read.order.order_id }), {
    'content-type': 'application/json',
  })
}
