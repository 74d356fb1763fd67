import { type IncomingMessage, request as requestHttp } from 'node:http'
import { request as requestHttps } from 'node:https'

const MOST_BYTES = 5 * 1024 * 1024
const LONGEST_MS = 10_000
/** When a page that is asked over several hops must have come. */
export const deadlineFrom = (now: number): number => now + LONGEST_MS

/** A page that cannot be fetched, with why in words. */
export class NotFetched extends Error {}

export interface HopAnswer {
  status: number
  /** where a redirect leads, as the answer has it */
  location: string | null
  body: string
}

/**
 * Asks for one page and follows nothing. The address given is the one that is asked, whatever the name
 * means by now, so that a name cannot change its mind after it was looked up.
 *
 * @param host the IP address to connect to
 * @param within ms
 * @throws NotFetched when it does not answer in time, or with more than 5 MB
 */
export function askHop(url: URL, host: string, within: number, agent: string): Promise<HopAnswer> {
  return new Promise((done, failed) => {
    const ask = url.protocol === 'https:' ? requestHttps : requestHttp
    const late = setTimeout(
      () => sent.destroy(new NotFetched(`${url.host} did not answer within ${LONGEST_MS / 1000} seconds.`)),
      Math.max(0, within),
    )
    const finish = (then: () => void) => {
      clearTimeout(late)
      then()
    }
    const sent = ask(
      {
        host,
        port: url.port || undefined,
        servername: url.hostname,
        path: url.pathname + url.search,
        headers: { host: url.host, accept: 'text/html', 'user-agent': agent },
      },
      (response: IncomingMessage) => {
        const { statusCode: status = 0, headers } = response
        if (status >= 300 && status < 400 && headers.location) {
          response.resume()
          return finish(() => done({ status, location: headers.location ?? null, body: '' }))
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
          finish(() => done({ status, location: null, body: Buffer.concat(chunks).toString('utf8') })),
        )
      },
    )
    sent.on('error', error =>
      finish(() =>
        failed(error instanceof NotFetched ? error : new NotFetched(`${url.host} does not answer.`)),
      ),
    )
    sent.end()
  })
}
