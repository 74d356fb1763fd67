import { lookup } from 'node:dns/promises'
import { type IncomingMessage, request as requestHttp } from 'node:http'
import { request as requestHttps } from 'node:https'
import ipaddr from 'ipaddr.js'
import { hasPractice } from '../practice'

const MOST_HOPS = 5
const MOST_BYTES = 5 * 1024 * 1024
const LONGEST_MS = 10_000
const PRACTICE_SHOP = 'shop.tarnbrook.localhost'

/** A page that cannot be fetched, with why in words. */
export class NotFetched extends Error {}

/**
 * Where a host's pages are fetched from: a public address, or the practice shop on this machine.
 *
 * @throws NotFetched for any other
 */
async function addressOf({ hostname, port }: URL): Promise<string> {
  if (hasPractice() && hostname === PRACTICE_SHOP && port === (process.env.PRACTICE_PORT ?? '4620'))
    return '127.0.0.1'
  const bare = hostname.replace(/^\[|\]$/g, '')
  const found = ipaddr.isValid(bare) ? [{ address: bare }] : await lookup(bare, { all: true }).catch(() => [])
  if (found.length === 0) throw new NotFetched(`${hostname} cannot be found.`)
  const inside = found.find(({ address }) => ipaddr.process(address).range() !== 'unicast')
  if (inside)
    throw new NotFetched(
      `${hostname} is not on the public internet: such pages are not fetched. Paste the page instead.`,
    )
  return found[0]!.address
}

/**
 * Fetches a page as a visitor would meet it, over at most five redirects. The address that was looked up is
 * the one that is asked, so that a name cannot change its mind between.
 *
 * @throws NotFetched for private addresses, loops, pages that are too large or do not answer
 */
export async function fetchPage(address: string): Promise<{ address: string; html: string }> {
  const deadline = Date.now() + LONGEST_MS
  let at = address
  for (let hop = 0; hop <= MOST_HOPS; hop++) {
    if (!/^https?:\/\//i.test(at) || !URL.canParse(at))
      throw new NotFetched('Write a whole address, with https://.')
    const url = new URL(at)
    const answer = await get(url, await addressOf(url), deadline - Date.now())
    if (answer.location === null) return { address: at, html: answer.body }
    at = new URL(answer.location, at).href
  }
  throw new NotFetched(`${address} redirects more than ${MOST_HOPS} times: a loop, most likely.`)
}

function get(url: URL, host: string, within: number): Promise<{ location: string | null; body: string }> {
  return new Promise((done, failed) => {
    const ask = url.protocol === 'https:' ? requestHttps : requestHttp
    const late = setTimeout(
      () => sent.destroy(new NotFetched(`${url.host} did not answer within ${LONGEST_MS / 1000} seconds.`)),
      Math.max(0, within),
    )
    const sent = ask(
      {
        host,
        port: url.port || undefined,
        servername: url.hostname,
        path: url.pathname + url.search,
        headers: {
          host: url.host,
          accept: 'text/html',
          'user-agent': 'Mozilla/5.0 (compatible; Aequant page check)',
        },
      },
      (response: IncomingMessage) => {
        const { statusCode = 0, headers } = response
        if (statusCode >= 300 && statusCode < 400 && headers.location) {
          response.resume()
          return finish(() => done({ location: headers.location ?? null, body: '' }))
        }
        if (statusCode >= 400) {
          response.resume()
          return finish(() => failed(new NotFetched(`${url.href} answered ${statusCode}.`)))
        }
        const chunks: Buffer[] = []
        let size = 0
        response.on('data', (chunk: Buffer) => {
          size += chunk.length
          chunks.push(chunk)
          if (size > MOST_BYTES)
            sent.destroy(new NotFetched('The page is over 5 MB. Paste the part with the tags instead.'))
        })
        response.on('end', () =>
          finish(() => done({ location: null, body: Buffer.concat(chunks).toString('utf8') })),
        )
      },
    )
    const finish = (then: () => void) => {
      clearTimeout(late)
      then()
    }
    sent.on('error', error =>
      finish(() =>
        failed(error instanceof NotFetched ? error : new NotFetched(`${url.host} does not answer.`)),
      ),
    )
    sent.end()
  })
}
