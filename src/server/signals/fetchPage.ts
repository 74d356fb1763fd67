import { type IncomingMessage, request as requestHttp } from 'node:http'
import { request as requestHttps } from 'node:https'
import { addressOf } from '../outside'

const MOST_HOPS = 5
const MOST_BYTES = 5 * 1024 * 1024
const LONGEST_MS = 10_000
const PRACTICE_SHOP = 'shop.tarnbrook.localhost'

/** A page that cannot be fetched, with why in words. */
export class NotFetched extends Error {}

async function fetchedFrom(url: URL): Promise<string> {
  const found = await addressOf(url, host => host === PRACTICE_SHOP)
  if (found.address !== null) return found.address
  throw new NotFetched(
    found.problem === 'unknown'
      ? `${url.hostname} cannot be found.`
      : `${url.hostname} is not on the public internet: such pages are not fetched. Paste the page instead.`,
  )
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
    const answer = await get(url, await fetchedFrom(url), deadline - Date.now())
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
