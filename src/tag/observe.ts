/**
 * Beside the tag in a live test: says what the page looks like to its visitor — its scripts, the requests
 * that they make, what our tag called — as long as the page is open.
 */
import type { Observation } from '../core/intake/arrival'
import type { Called } from './networks'

const LOOKS_MS = [300, 1000, 2000, 3500, 6000, 10_000, 20_000]
const LONGEST_CODE = 4000
const MOST_CODE = 40
const MOST_REQUESTS = 150
const LONGEST_ADDRESS = 600

const script = document.currentScript as HTMLScriptElement
const { site = '', test = '' } = script.dataset
const collector = new URL(script.src).origin
/** The page that is observed: on a single-page site one after the other. */
let { view = '' } = script.dataset
let page = location.href
/** ms since the document began, which was made ready before it was opened perhaps */
let opened =
  (performance.getEntriesByType('navigation')[0] as { activationStart?: number })?.activationStart ?? 0
let calledBefore = 0
let errors: Observation['errors'] = []
addEventListener('error', event => {
  if (event.message) errors.push({ said: event.message.slice(0, 500), line: event.lineno || null })
})

const isOurs = (address: string) => address.startsWith(`${collector}/`) && !address.includes('/aq.js')

function observe(): Observation & { site: string } {
  const parts = [...document.querySelectorAll('script, img')].filter(
    e => !e.hasAttribute('data-aq-placed') && e !== script,
  )
  const heard = (window as { aequantCalled?: Called[] }).aequantCalled ?? []
  return {
    site,
    test,
    view,
    page: page.slice(0, 2000),
    title: document.title.slice(0, 300),
    opened: performance.timeOrigin + opened,
    after_ms: Math.round(performance.now() - opened),
    code: parts.slice(0, MOST_CODE).map(e => ({
      in: document.head.contains(e) ? 'head' : 'body',
      html: e.outerHTML.slice(0, LONGEST_CODE),
    })),
    requests: (performance.getEntriesByType('resource') as PerformanceResourceTiming[])
      .filter(entry => entry.startTime >= opened && !isOurs(entry.name))
      .slice(-MOST_REQUESTS)
      .map(entry => ({
        address: entry.name.slice(0, LONGEST_ADDRESS),
        at: performance.timeOrigin + entry.startTime,
        failed: (entry as { responseStatus?: number }).responseStatus! >= 400,
      })),
    called: heard.slice(calledBefore).slice(-100),
    errors: errors.slice(-20),
  }
}

let last = ''
function look(): void {
  const seen = observe()
  const { after_ms: _, ...facts } = seen
  const text = JSON.stringify(facts)
  // The last look is told even when nothing is new: it says that the page has come to rest.
  if (text === last && seen.after_ms < 3000) return
  last = text
  fetch(`${collector}/t`, {
    method: 'POST',
    body: JSON.stringify(seen),
    keepalive: text.length < 60_000,
  }).catch(() => {})
}
const looks = () => LOOKS_MS.map(after => setTimeout(look, after))
let waiting = looks()
addEventListener('aequant-page', event => {
  look()
  for (const timer of waiting) clearTimeout(timer)
  view = (event as CustomEvent<string>).detail
  page = location.href
  opened = performance.now()
  calledBefore = (window as { aequantCalled?: Called[] }).aequantCalled?.length ?? 0
  errors = []
  waiting = looks()
})
addEventListener('pagehide', () => navigator.sendBeacon(`${collector}/t`, JSON.stringify(observe())))
