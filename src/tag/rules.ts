import { type AddressConditions, addressMatcher, type Pattern } from '../core/signals/addressMatcher'
import type { Rule } from '../core/signals/rule'
import { closest, find, lookOn, watch } from './elements'

// The browser's side of rules: each waits for its trigger and then tells its result.

const LONGEST_ADDRESS = 2048
const patterns = new Map<string, Pattern | null>()
/** The browser's own engine, for what was found harmless to it when the rule was written. */
function compile(text: string): Pattern | null {
  let pattern = patterns.get(text)
  if (pattern === undefined) {
    try {
      const found = new RegExp(text)
      pattern = { test: address => found.test(address.slice(0, LONGEST_ADDRESS)) }
    } catch {
      pattern = null
    }
    patterns.set(text, pattern)
  }
  return pattern
}
const matchesAddress = addressMatcher(compile)

interface Facts {
  value?: string
  currency?: string
  transaction?: string
}
type Tell = (result: string, facts: Facts & { rule: string }) => void
type FactPlace = NonNullable<Rule['facts']['value']>

/** No sign of the visitor for so long: the page is open, but nobody is there. */
const IDLE_MS = 30_000
/** A jump of more than this is a seek and not play. */
const LONGEST_STEP_S = 1.5
const SEEN_SHARE = 0.5
/** A page of a single-page site is drawn after its address has changed. */
const LONGEST_WAIT_MS = 2000

function readFact(place: FactPlace | undefined): string | undefined {
  if (!place) return undefined
  if (place.from === 'fixed') return place.text
  if (place.from === 'parameter') return new URLSearchParams(location.search).get(place.name) ?? undefined
  const element = find(place.selector)[0]
  const text = place.attribute ? element?.getAttribute(place.attribute) : element?.textContent
  return text?.trim() || undefined
}

/** Once the elements are there in which a rule's facts stand, or when they have not come for long. */
function whenThere(selectors: readonly string[], then: () => void, ended: AbortSignal): void {
  const missing = () => selectors.some(selector => find(selector).length === 0)
  if (!missing()) {
    then()
    return
  }
  const waited = new AbortController()
  let done = false
  const give = () => {
    if (done) return
    done = true
    waited.abort()
    then()
  }
  setTimeout(give, LONGEST_WAIT_MS)
  // A page that is left has told its results all the same.
  ended.addEventListener('abort', give)
  addEventListener('pagehide', give, { capture: true, signal: waited.signal })
  lookOn(() => missing() || give(), waited.signal)
}

/** Seconds that the page is looked at: its tab visible, its visitor active. */
function countEngaged(each: (seconds: number) => void, ended: AbortSignal): void {
  let seconds = 0
  let active = Date.now()
  for (const kind of ['pointermove', 'pointerdown', 'keydown', 'scroll', 'touchstart'])
    addEventListener(kind, () => (active = Date.now()), { passive: true, capture: true, signal: ended })
  const clock = setInterval(() => {
    if (document.visibilityState === 'visible' && Date.now() - active < IDLE_MS) each(++seconds)
  }, 1000)
  ended.addEventListener('abort', () => clearInterval(clock))
}

/** Plays of a video: what was really played counts, a share once for each play from the beginning. */
function watchVideo(video: HTMLVideoElement, share: number, reached: () => void, signal: AbortSignal): void {
  let played = 0
  let at = 0
  let told = false
  let ended = false
  const begin = () => {
    if (ended) {
      played = 0
      told = false
      ended = false
    }
    at = video.currentTime
  }
  const step = () => {
    const moved = video.currentTime - at
    if (moved > 0 && moved < LONGEST_STEP_S) played += moved
    at = video.currentTime
    if (told || !video.duration || played < (video.duration * share) / 100 - 0.1) return
    told = true
    reached()
  }
  const end = () => {
    step()
    ended = true
  }
  video.addEventListener('play', begin, { signal })
  video.addEventListener('timeupdate', step, { signal })
  video.addEventListener('ended', end, { signal })
}

/** Whether what was sent is a form that its page refused: a field is wrong, in the browser's or the page's eyes. */
const isRefused = (form: HTMLFormElement) => form.querySelector(':invalid, [aria-invalid="true"]') !== null

const factSelectors = ({ facts }: Rule) =>
  Object.values(facts).flatMap(fact => (fact?.from === 'element' ? [fact.selector] : []))

/**
 * Sets the rules going on a page; each tells its result by its own trigger, until the page has ended.
 *
 * @param again whether the visitor came back to a page that has told already what its address alone tells
 */
export function runRules(
  rules: readonly Rule[],
  tell: Tell,
  ended: AbortSignal,
  again: boolean,
): { own: (name: string, facts: Facts) => void } {
  const fire = ({ id, result, facts }: Rule, given: Facts = {}) =>
    tell(result, {
      rule: id,
      value: readFact(facts.value) ?? given.value,
      currency: readFact(facts.currency) ?? given.currency,
      transaction: readFact(facts.transaction) ?? given.transaction,
    })
  const here = ({ where }: { where: AddressConditions }) => matchesAddress(where, location.href)
  const engaged: [seconds: number, rule: Rule][] = []
  const scrolled: [share: number, rule: Rule][] = []

  for (const rule of rules) {
    const { when } = rule
    // A rule on link clicks means the link's address, all others the page's.
    if (when.on !== 'link_click' && !here(rule)) continue
    switch (when.on) {
      case 'page':
        if (!again) whenThere(factSelectors(rule), () => fire(rule), ended)
        break
      case 'link_click':
        addEventListener(
          'click',
          event => {
            const link = closest(event, 'a[href]') as HTMLAnchorElement | null
            if (link && matchesAddress(rule.where, link.href)) fire(rule)
          },
          { capture: true, signal: ended },
        )
        break
      case 'element_click':
        addEventListener('click', event => closest(event, when.selector) && fire(rule), {
          capture: true,
          signal: ended,
        })
        break
      case 'form_sent':
        // After the page's own handlers: what they refuse does not count.
        addEventListener(
          'submit',
          event => {
            const form = closest(event, when.selector ?? 'form')
            if (form instanceof HTMLFormElement && !isRefused(form)) fire(rule)
          },
          { signal: ended },
        )
        break
      case 'element_seen': {
        const observer = new IntersectionObserver(
          entries => {
            if (!entries.some(e => e.isIntersecting)) return
            observer.disconnect()
            fire(rule)
          },
          { threshold: SEEN_SHARE },
        )
        watch(when.selector, element => observer.observe(element), ended)
        ended.addEventListener('abort', () => observer.disconnect())
        break
      }
      case 'scroll':
        scrolled.push([when.share, rule])
        break
      case 'video':
        watch<HTMLVideoElement>(
          when.selector ?? 'video',
          video => watchVideo(video, when.share, () => fire(rule), ended),
          ended,
        )
        break
      case 'engaged':
        engaged.push([when.seconds, rule])
        break
      case 'own_event':
        break
    }
  }
  if (engaged.length > 0)
    countEngaged(now => {
      for (const [seconds, rule] of engaged) if (seconds === now) fire(rule)
    }, ended)
  if (scrolled.length > 0) {
    const told = new Set<Rule>()
    const look = () => {
      const { scrollHeight } = document.documentElement
      const seen = (100 * (scrollY + innerHeight)) / Math.max(1, scrollHeight)
      for (const [share, rule] of scrolled) {
        if (seen < share || told.has(rule)) continue
        told.add(rule)
        fire(rule)
      }
    }
    addEventListener('scroll', look, { passive: true, signal: ended })
    look()
  }
  return {
    own(name, facts) {
      for (const rule of rules)
        if (rule.when.on === 'own_event' && rule.when.name === name && here(rule)) fire(rule, facts)
    },
  }
}
