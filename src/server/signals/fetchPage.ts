import { askHop, deadlineFrom, NotFetched } from '../hop'
import { addressOf } from '../outside'

const MOST_HOPS = 5
const PRACTICE_SHOP = 'shop.tarnbrook.localhost'
const AGENT = 'Mozilla/5.0 (compatible; Aequant page check)'

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
 * Fetches a page as a visitor would meet it, over at most five redirects.
 *
 * @param deadline epoch ms
 * @throws NotFetched for private addresses, loops, pages that are too large or do not answer
 */
export async function fetchPage(
  address: string,
  deadline = deadlineFrom(Date.now()),
): Promise<{ address: string; html: string }> {
  let at = address
  for (let hop = 0; hop <= MOST_HOPS; hop++) {
    if (!/^https?:\/\//i.test(at) || !URL.canParse(at))
      throw new NotFetched('Write a whole address, with https://.')
    const url = new URL(at)
    const answer = await askHop(url, await fetchedFrom(url), deadline - Date.now(), AGENT)
    if (answer.status >= 400) throw new NotFetched(`${url.href} answered ${answer.status}.`)
    if (answer.location === null) return { address: at, html: answer.body }
    at = new URL(answer.location, at).href
  }
  throw new NotFetched(`${address} redirects more than ${MOST_HOPS} times: a loop, most likely.`)
}
