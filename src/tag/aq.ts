/**
 * The Aequant tag: one script on every page of a site.
 *
 *   <script async src="https://TRACKING/aq.js?site=KEY" data-site="KEY"></script>
 *
 * `data-consent="required"` keeps nothing and names nobody until `aequant('consent', true)`;
 * `data-respect="gpc"` does the same for browsers that send Global Privacy Control or Do Not Track;
 * `data-days` is how long a touch is remembered. A page may say `aequant('basket', { value: '49.00',
 * currency: 'EUR', transaction: 'T1' })`. Fields marked `data-aq="click_id"` (or `visitor_id`,
 * `landing_url`, `utm_…`, each also with `first_` before it) are filled in, and links marked
 * `data-aq-out` carry the click ID on.
 *
 * A browser that opened an address with `aq_test` is in a live test until that ends: what it tells is
 * marked, `data-aq="test"` is filled in, and the page is observed by `aq-test.js`.
 */
import type { Routing } from '../core/intake/routing'
import { type Called, callNetworks } from './networks'
import { runRules } from './rules'

const CLICK = 'aq_click'
const CODE = 'aq_code'
const KEPT = 'aequant'
const TEST = 'aq_test'
const DAY_MS = 86_400_000
const ZONE_AFTER_MS = 1500
/** So long after it was loaded a page has its browser to itself; one that never comes to rest is told of all the same. */
const REST_MS = 200
const LATEST_BEGIN_MS = 1500

type Touch = Record<string, string>
interface Memory {
  visitor?: string
  /** IANA zone of the browser */
  zone?: string
  test?: string
  first?: Touch
  last?: Touch
  queue?: object[]
}
interface Facts {
  id?: string
  value?: string
  currency?: string
  transaction?: string
  rule?: string
}

const script = document.currentScript as HTMLScriptElement
const { site, consent, respect, days = '30' } = script.dataset
const collector = new URL(script.src).origin

/** RFC 9562, version 7: the time first, the rest random. */
function mintId(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16))
  const time = Date.now()
  for (let i = 0; i < 6; i++) bytes[i] = Math.floor(time / 2 ** (40 - 8 * i)) % 256
  bytes[6] = (bytes[6]! & 15) | 112
  bytes[8] = (bytes[8]! & 63) | 128
  const hex = Array.from(bytes, byte => byte.toString(16).padStart(2, '0')).join('')
  return hex.replace(/^(.{8})(.{4})(.{4})(.{4})/, '$1-$2-$3-$4-')
}

let unstored: Memory = {}
/** What is known in this turn. Storage is read and written once a turn, as each time takes a browser milliseconds. */
let kept: Memory | undefined
let unsaved = false
function recall(): Memory {
  if (!kept) {
    try {
      kept = JSON.parse(localStorage.getItem(KEPT) ?? '{}') as Memory
    } catch {
      kept = unstored
    }
    setTimeout(save)
  }
  return { ...kept }
}
function remember(memory: Memory): void {
  if (!kept) setTimeout(save)
  unstored = kept = memory
  unsaved = true
}
function save(): void {
  try {
    if (unsaved) localStorage.setItem(KEPT, JSON.stringify(kept))
  } catch {
    // Storage is refused: what is known lives as long as the page.
  }
  unsaved = false
  kept = undefined
}

/** The live test that this browser is in: until it ends, which the collector says. */
function readTest(): string | undefined {
  const given = new URLSearchParams(location.search).get(TEST)
  const memory = recall()
  if (given && given !== memory.test) remember({ ...memory, test: given })
  return given ?? memory.test
}
let test: string | undefined
let view: string | undefined

const privacy = navigator as { globalPrivacyControl?: boolean; doNotTrack?: string | null }
const objects = respect === 'gpc' && (privacy.globalPrivacyControl || privacy.doNotTrack === '1')
let may = false

/** What the address says of how the shopper came; null when it says nothing. */
function readTouch(): Touch | null {
  const given = new URLSearchParams(location.search)
  const touch: Touch = {}
  given.forEach((value, key) => {
    if (value && (key === CLICK || key === CODE || key.startsWith('utm_'))) touch[key] = value.slice(0, 200)
  })
  if (Object.keys(touch).length === 0) return null
  return { ...touch, landing_url: location.href.slice(0, 2000), at: String(Date.now()) }
}

/** Keeps the touch of this page, and reports it as a click where no redirect could. */
function arrive(): void {
  const memory = recall()
  memory.visitor ??= mintId()
  for (const which of ['first', 'last'] as const)
    if (Number(memory[which]?.at ?? 0) < Date.now() - Number(days) * DAY_MS) delete memory[which]
  const touch = readTouch()
  const same = touch && memory.last?.landing_url === touch.landing_url
  if (touch && same) Object.assign(touch, { [CLICK]: memory.last![CLICK] })
  const byTag = touch?.[CODE] && !touch[CLICK]
  if (touch && byTag) touch[CLICK] = mintId()
  if (touch) {
    memory.first ??= touch
    memory.last = touch
  }
  remember(memory)
  if (touch && byTag) send('arrival', {}, touch[CODE])
}

function send(
  name: string,
  { id = mintId(), value, currency, transaction, rule }: Facts,
  code?: string,
): void {
  const memory = recall()
  const event = {
    site,
    id,
    name,
    test,
    view,
    value,
    currency,
    transaction,
    rule,
    zone: may ? memory.zone : undefined,
    // Without consent the address is cut to its path: what follows may name a person.
    page: may ? location.href.slice(0, 2000) : location.origin + location.pathname,
    ...(may
      ? {
          code,
          referrer: document.referrer.slice(0, 2000) || undefined,
          visitor: memory.visitor,
          click: memory.last?.[CLICK],
        }
      : {}),
  }
  const queue = [...(memory.queue ?? []), event].slice(-50)
  if (may) remember({ ...memory, queue })
  else unstored = { queue }
  clearTimeout(timer)
  timer = window.setTimeout(flush, 0)
}

let timer = 0
const waiting = () => (may ? (recall().queue ?? []) : (unstored.queue ?? []))
function sent(events: object[]): void {
  const ids = new Set(events.map(e => (e as Facts).id))
  const left = waiting().filter(e => !ids.has((e as Facts).id))
  if (may) remember({ ...recall(), queue: left })
  else unstored = { queue: left }
}

/** Sends what waits. What cannot be sent stays for the next page; the same event twice is one event. */
function flush(): void {
  const events = waiting()
  if (events.length === 0) return
  fetch(`${collector}/e`, { method: 'POST', body: JSON.stringify(events), keepalive: true }).then(
    () => sent(events),
    () => {},
  )
}
addEventListener('pagehide', () => {
  begin()
  save()
  const events = waiting()
  if (events.length > 0 && navigator.sendBeacon(`${collector}/e`, JSON.stringify(events))) {
    sent(events)
    save()
  }
})

function fillFields(): void {
  const { visitor, first, last } = may ? recall() : {}
  for (const field of document.querySelectorAll<HTMLInputElement>('input[data-aq]')) {
    const [, which, name = ''] = /^(first_)?(.*)$/.exec(field.dataset.aq ?? '') ?? []
    const touch = which ? first : last
    const known = { visitor_id: visitor, test: doing?.test ? test : '', click_id: touch?.[CLICK] }
    field.value = (name in known ? known[name as keyof typeof known] : touch?.[name]) ?? ''
  }
}

addEventListener(
  'click',
  event => {
    const link = (event.target as Element | null)?.closest?.<HTMLAnchorElement>('a[data-aq-out]')
    const click = may && recall().last?.[CLICK]
    if (!link || !click) return
    const to = new URL(link.href)
    to.searchParams.set(CLICK, click)
    link.href = to.href
  },
  true,
)

type Doing = Pick<Routing['sites'][string], 'rules' | 'networks'> & { test: boolean }
/** Asking a browser for its zone the first time takes it forty milliseconds: it is asked once, when it has nothing else to do. */
function learnZone(): void {
  const learn = () => {
    if (may && !recall().zone)
      remember({ ...recall(), zone: Intl.DateTimeFormat().resolvedOptions().timeZone })
  }
  setTimeout(() => (window.requestIdleCallback ?? setTimeout)(learn), ZONE_AFTER_MS)
}

let rules: ReturnType<typeof runRules> | null = null
let doing: Doing | null = null
let tellNetworks: ReturnType<typeof callNetworks> | null = null

function start(given: Doing): void {
  doing = given
  if (doing.test) observeTest()
  else if (test) remember({ ...recall(), test: undefined })
  startNetworks()
  rules = runRules(doing.rules, (result, facts) => {
    const id = mintId()
    send(result, { id, ...facts })
    tellNetworks?.(result, { id, ...facts })
  })
  for (const [name, facts] of early) rules.own(name, facts)
}

/** What the tag does here comes along with it, so that the site never has to be touched for it. */
function findDoing(): void {
  const { aequantDoing } = window as { aequantDoing?: Doing }
  if (aequantDoing && !test) {
    start(aequantDoing)
    return
  }
  // In a test, or where the script was asked for without its site.
  fetch(`${collector}/r/${site}${test ? `?${TEST}=${encodeURIComponent(test)}` : ''}`)
    .then(answer => answer.json())
    .then(start)
    .catch(() => {})
}

/** Who may not be followed is not told of to anybody. */
function startNetworks(): void {
  if (!may || !doing || tellNetworks) return
  const called: Called[] = []
  if (doing.test) Object.assign(window, { aequantCalled: called })
  tellNetworks = callNetworks(doing.networks, doing.test, one => called.push(one))
}

function observeTest(): void {
  const observer = document.createElement('script')
  observer.src = `${collector}/aq-test.js`
  Object.assign(observer.dataset, { site, test, view, aqPlaced: '' })
  document.head.append(observer)
  fillFields()
}
/** Own events of the page that came before the rules. */
const early: [name: string, facts: Facts][] = []

let begun = false
/** Everything that takes time is done here: once the page stands and the browser is idle, or sooner when somebody acts. */
function begin(): void {
  if (begun) return
  begun = true
  may = !objects && (consent !== 'required' || recall().visitor !== undefined)
  test = readTest()
  view = test ? mintId() : undefined
  if (may) arrive()
  send('page', {})
  // Rules read what stands on the page: it has to be there.
  const ready = () => {
    fillFields()
    findDoing()
  }
  if (document.readyState === 'loading') addEventListener('DOMContentLoaded', ready)
  else ready()
  learnZone()
}

Object.assign(window, {
  aequant(name: string, facts: Facts | boolean = {}) {
    begin()
    if (typeof facts === 'object') {
      if (rules) rules.own(name, facts)
      else early.push([name, facts])
      return send(name, facts)
    }
    if (name !== 'consent') return
    may = facts && !objects
    if (may) {
      arrive()
      fillFields()
      startNetworks()
    } else {
      tellNetworks = null
      unstored = {}
      kept = undefined
      unsaved = false
      try {
        localStorage.removeItem(KEPT)
      } catch {
        // Nothing was stored.
      }
      fillFields()
    }
  },
})
// Before a click or a sent form comes one of these: nothing of what a visitor does is missed.
for (const kind of ['pointerdown', 'keydown', 'touchstart', 'click', 'submit'])
  addEventListener(kind, begin, { capture: true, once: true, passive: true })
addEventListener('submit', fillFields, true)
const whenIdle = () => {
  setTimeout(() => (window.requestIdleCallback ?? setTimeout)(begin), REST_MS)
  setTimeout(begin, LATEST_BEGIN_MS)
}
// Who comes by an ad may go on at once, and networks have to learn their click ID on this very page.
if (readTouch()) begin()
else if (document.readyState === 'complete') whenIdle()
else addEventListener('load', whenIdle)
