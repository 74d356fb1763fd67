import { CLICK_PARAMETER } from '@/core/intake/routing'
import { compareHops, decoded, type ParameterFate } from '@/core/links/hops'
import type { Workspace } from '@/data/workspace'
import { hasAnchor, linksOf, readPage } from '@/formats/html'
import { askHop, deadlineFrom, NotFetched } from '../hop'
import { addressOf } from '../outside'
import { trackingOrigin } from '../routes'

const MOST_HOPS = 10
/** Programs are known by their agent: what a try leaves in the collector is kept and never counted. */
const AGENT = 'Mozilla/5.0 (compatible; Aequant-link-try-bot/1.0)'

export interface TriedHop {
  /** on the way to the landing page, or from there on to an offer */
  leg: 'landing' | 'offer'
  address: string
  /** 0 when nothing answered */
  status: number
  /** ms until the answer was whole */
  took: number
  /** what became of the parameters on the way to the next hop; none at the last */
  parameters: ParameterFate[]
}

export type TryFinding =
  | { code: 'lost'; hop: number; key: string }
  | { code: 'doubled'; hop: number; key: string }
  | { code: 'encoded_again'; hop: number; key: string }
  | { code: 'decoded'; hop: number; key: string }
  | { code: 'changed'; hop: number; key: string }
  | { code: 'not_followed'; host: string }
  | { code: 'no_answer'; why: string }
  | { code: 'bad_status'; status: number }
  | { code: 'loop' }
  | { code: 'no_click_id' }
  | { code: 'no_tag' }
  | { code: 'no_anchor'; fragment: string }
  | { code: 'bad_offer'; status: number }
  | { code: 'no_click_at_offer' }

export interface TriedLink {
  hops: TriedHop[]
  findings: TryFinding[]
  /** whether the landing page, and the offer that it leads on to, answered as they should */
  reached: boolean
}

const ownOrigin = () => new URL(trackingOrigin())

/** The IP address that a hop is asked at; null for a host that must not be asked. */
async function askedAt(url: URL, hosts: ReadonlySet<string>): Promise<string | null> {
  if (url.host === ownOrigin().host && /^(localhost|127\.)/.test(url.hostname)) return '127.0.0.1'
  if (url.hostname !== ownOrigin().hostname && !hosts.has(url.hostname)) return null
  const found = await addressOf(url, () => true)
  if (found.address === null)
    throw new NotFetched(
      found.problem === 'unknown'
        ? `${url.hostname} cannot be found.`
        : `${url.hostname} is not on the public internet.`,
    )
  return found.address
}

const troubles = new Set(['lost', 'doubled', 'encoded_again', 'decoded', 'changed'])
const isTrouble = (fate: ParameterFate['fate']): fate is 'lost' => troubles.has(fate)

/** The address by which a landing page leads on to an offer, with the click ID that our tag would add. */
function onward(landing: URL, html: string): URL | null {
  const next = linksOf(html)
    .filter(to => URL.canParse(to, landing.href))
    .map(to => new URL(to, landing))
    .find(to => to.host === ownOrigin().host && /^\/c\/[\w-]+\/next$/.test(to.pathname))
  const click = landing.searchParams.get(CLICK_PARAMETER)
  if (next && click && !next.searchParams.has(CLICK_PARAMETER)) next.searchParams.set(CLICK_PARAMETER, click)
  return next ?? null
}

function offerFindings(at: URL, status: number, click: string | null): TryFinding[] {
  if (status >= 400) return [{ code: 'bad_offer', status }]
  return click && ![...at.searchParams.values()].includes(click) ? [{ code: 'no_click_at_offer' }] : []
}

/**
 * Follows a link with its sample values from hop to hop as a browser would, and from the landing page on to
 * an offer, and says where a parameter is lost, doubled or encoded again, whether the pages answer, and
 * whether our tag, the fragment and the offer's click ID are there.
 * Hosts that are not listed are not asked.
 */
export async function tryLink({ settings }: Workspace, address: string): Promise<TriedLink> {
  const hops: TriedHop[] = []
  const findings: TryFinding[] = []
  const ended = (finding: TryFinding): TriedLink => ({
    hops,
    findings: [...findings, finding],
    reached: false,
  })
  if (!/^https?:\/\//i.test(address) || !URL.canParse(address))
    return ended({ code: 'no_answer', why: 'It is no web address.' })
  // Ads and landing pages come in from outside: only a host that somebody listed is asked.
  const hosts = new Set(settings.hosts.map(h => h.toLowerCase()))
  const deadline = deadlineFrom(Date.now())
  let at = new URL(address)
  let leg: TriedHop['leg'] = 'landing'
  let click: string | null = null
  while (hops.length < MOST_HOPS) {
    const began = performance.now()
    try {
      const host = await askedAt(at, hosts)
      if (host === null) return ended({ code: 'not_followed', host: at.hostname })
      const answer = await askHop(at, host, deadline - Date.now(), AGENT)
      const hop = {
        leg,
        address: at.href,
        status: answer.status,
        took: Math.round(performance.now() - began),
      }
      if (answer.location === null) {
        hops.push({ ...hop, parameters: [] })
        const { status, body } = answer
        findings.push(
          ...(leg === 'landing' ? landingFindings(at, status, body) : offerFindings(at, status, click)),
        )
        const offer = leg === 'landing' && status < 400 ? onward(at, body) : null
        if (!offer) return { hops, findings, reached: status < 400 }
        click = offer.searchParams.get(CLICK_PARAMETER)
        leg = 'offer'
        at = offer
        continue
      }
      const next = new URL(answer.location, at)
      // A fragment that a redirect does not set stays with the browser.
      if (!next.hash) next.hash = at.hash
      // The partner hears of the click ID under a name of its own.
      const parameters = compareHops(at.href, next.href).filter(
        p => leg === 'landing' || p.key !== CLICK_PARAMETER,
      )
      for (const { key, fate } of parameters)
        if (isTrouble(fate)) findings.push({ code: fate, hop: hops.length, key })
      const byUs = at.host === ownOrigin().host && at.pathname.startsWith('/c/')
      if (byUs && leg === 'landing' && !next.searchParams.has(CLICK_PARAMETER))
        findings.push({ code: 'no_click_id' })
      hops.push({ ...hop, parameters })
      at = next
    } catch (error) {
      if (!(error instanceof NotFetched)) throw error
      hops.push({
        leg,
        address: at.href,
        status: 0,
        took: Math.round(performance.now() - began),
        parameters: [],
      })
      return ended({ code: 'no_answer', why: error.message })
    }
  }
  return ended({ code: 'loop' })
}

function landingFindings(at: URL, status: number, html: string): TryFinding[] {
  if (status >= 400) return [{ code: 'bad_status', status }]
  const findings: TryFinding[] = []
  const tag = `${trackingOrigin()}/aq.js`
  if (!readPage(html).code.some(c => c.src?.startsWith(tag) || c.text.includes(tag)))
    findings.push({ code: 'no_tag' })
  const fragment = decoded(at.hash.slice(1))
  if (fragment && !/^[/!:]/.test(fragment) && !hasAnchor(html, fragment))
    findings.push({ code: 'no_anchor', fragment })
  return findings
}
