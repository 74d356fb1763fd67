/**
 * The Aequant tag: one script on every page of a site, which may be one document with many addresses.
 *
 *   <script async src="https://TRACKING/aq.js?site=KEY" data-site="KEY"></script>
 *
 * `data-consent="required"` keeps nothing and names nobody until `aequant('consent', true)`;
 * `data-respect="gpc"` does the same for browsers that send Global Privacy Control or Do Not Track;
 * `data-days` is how long a touch is remembered. A page may say `aequant('basket', { value: '49.00',
 * currency: 'EUR', transaction: 'T1' })`. Fields marked `data-aq="click_id"` (or `visitor_id`,
 * `landing_url`, `utm_…`, each also with `first_` before it) are filled in. Links marked `data-aq-out`,
 * and whatever leads to another host of the shop, carry the click ID on.
 *
 * A browser that opened an address with `aq_test` is in a live test until that ends: what it tells is
 * marked, `data-aq="test"` is filled in, and the page is observed by `aq-test.js`.
 */
import type { Routing } from '../core/intake/routing'
import { carryAlong } from './carry'
import { watch } from './elements'
import { forget, keepWaiting, recall, remember, save, type Touch, waitingOf } from './memory'
import { type Called, callNetworks } from './networks'
import { isShown, onceShown, pageAddress, watchPages } from './pages'
import { makeScript } from './place'
import { runRules } from './rules'

const CLICK = 'aq_click'
const CODE = 'aq_code'
const TEST = 'aq_test'
const DAY_MS = 86_400_000
const ZONE_AFTER_MS = 1500
/** So long after it was loaded a page has its browser to itself; one that never comes to rest is told of all the same. */
const REST_MS = 200
const LATEST_BEGIN_MS = 1500

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

/** By which the document was opened: how the shopper came stands there, whatever the address becomes. */
const landing = location.href
/** The page that is told of, and the one before it. */
let page = pageAddress()
let { referrer } = document

/** The live test that this browser is in: until it ends, which the collector says. */
function readTest(): string | undefined {
  const given = new URL(landing).searchParams.get(TEST)
  const memory = recall()
  if (given && given !== memory.test) remember({ ...memory, test: given })
  return given ?? memory.test
}
let test: string | undefined
let view: string | undefined

const privacy = navigator as { globalPrivacyControl?: boolean; doNotTrack?: string | null }
const objects = respect === 'gpc' && (privacy.globalPrivacyControl || privacy.doNotTrack === '1')
let may = false
const isAllowed = () =>
  !objects && (consent === 'required' ? recall().visitor !== undefined : !recall().refused)

/** What the address says of how the shopper came; null when it says nothing. */
function readTouch(): Touch | null {
  const touch: Touch = {}
  const { aequantDoing } = window as { aequantDoing?: Doing }
  const named = [CLICK, CODE, ...(aequantDoing?.parameters ?? [])]
  new URL(landing).searchParams.forEach((value, key) => {
    if (value && (named.includes(key) || key.startsWith('utm_'))) touch[key] = value.slice(0, 200)
  })
  if (Object.keys(touch).length === 0) return null
  return { ...touch, landing_url: landing.slice(0, 2000), at: String(Date.now()) }
}

/** Keeps the touch of this page, and reports it as a click where no redirect could. */
function arrive(): void {
  const { refused: _, ...memory } = recall()
  memory.visitor ??= mintId()
  for (const which of ['first', 'last'] as const)
    if (Number(memory[which]?.at ?? 0) < Date.now() - Number(days) * DAY_MS) delete memory[which]
  const touch = readTouch()
  const { last } = memory
  // The same address again, or a click that was carried to another host and back, is no other touch.
  const known =
    touch &&
    last &&
    (last.landing_url === touch.landing_url || (touch[CLICK] && last[CLICK] === touch[CLICK]))
  // Whether it names an ad, by a code or by the plan of its network, is found where plans are known.
  const byTag = touch && !touch[CLICK] && !known
  if (touch && byTag) touch[CLICK] = mintId()
  if (touch) {
    memory.last = known ? { ...last, at: touch.at! } : touch
    memory.first ??= memory.last
  }
  remember(memory)
  if (byTag) send('arrival', {}, touch[CODE])
}

function send(
  name: string,
  { id = mintId(), value, currency, transaction, rule }: Facts,
  code?: string,
): void {
  const memory = recall()
  const { origin, pathname } = new URL(page)
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
    page: may ? page.slice(0, 2000) : origin + pathname,
    ...(may
      ? {
          code,
          referrer: referrer.slice(0, 2000) || undefined,
          visitor: memory.visitor,
          click: memory.last?.[CLICK],
        }
      : {}),
  }
  keepWaiting(may, [...waitingOf(may), event].slice(-50))
  clearTimeout(timer)
  timer = window.setTimeout(flush, 0)
}

let timer = 0
function sent(events: object[]): void {
  const ids = new Set(events.map(e => (e as Facts).id))
  keepWaiting(
    may,
    waitingOf(may).filter(e => !ids.has((e as Facts).id)),
  )
}
/** Sends what waits. What cannot be sent stays for the next page; the same event twice is one event. */
function flush(): void {
  const events = waitingOf(may)
  if (events.length === 0) return
  fetch(`${collector}/e`, { method: 'POST', body: JSON.stringify(events), keepalive: true }).then(
    () => sent(events),
    () => {},
  )
}
addEventListener('pagehide', () => {
  begin()
  save()
  const events = waitingOf(may)
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

type Doing = Pick<Routing['sites'][string], 'rules' | 'networks' | 'hosts' | 'parameters'> & { test: boolean }
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
carryAlong(
  CLICK,
  () => may && recall().last?.[CLICK],
  () => doing?.hosts,
)

function start(given: Doing): void {
  doing = given
  if (doing.test) observeTest()
  else if (test) remember({ ...recall(), test: undefined })
  startNetworks()
  startRules(false)
  for (const [name, facts] of early) rules?.own(name, facts)
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
let ended = new AbortController()
function startRules(again: boolean): void {
  if (!doing) return
  ended = new AbortController()
  const tell: Parameters<typeof runRules>[1] = (result, facts) => {
    const id = mintId()
    send(result, { id, ...facts })
    tellNetworks?.(result, { id, ...facts })
  }
  rules = runRules(doing.rules, tell, ended.signal, again)
  fillFields()
}
/** Who may not be followed is not told of to anybody. */
function startNetworks(): void {
  if (!may || !doing || tellNetworks) return
  const called: Called[] = []
  if (doing.test) Object.assign(window, { aequantCalled: called })
  tellNetworks = callNetworks(doing.networks, doing.test, one => called.push(one))
}
function observeTest(): void {
  const observer = makeScript(`${collector}/aq-test.js`)
  Object.assign(observer.dataset, { site, test, view })
  document.head.append(observer)
  fillFields()
}

let turning = 0
let turned = false
/** Another address on the same document is another page. */
function turn(before: string, again: boolean): void {
  // The page before has its turn, where it had none.
  begin()
  ended.abort()
  page = pageAddress()
  referrer = before
  if (test) view = mintId()
  send('page', {})
  if (doing?.test) dispatchEvent(new CustomEvent('aequant-page', { detail: view }))
  clearTimeout(turning)
  // The site draws it now.
  turning = window.setTimeout(() => startRules(again))
  if (!turned) watch('input[data-aq]', fillFields)
  turned = true
}

/** Own events of the page that came before the rules. */
const early: [name: string, facts: Facts][] = []
let begun = false
/** Everything that takes time is done here: once the page stands and the browser is idle, or sooner when somebody acts. */
function begin(): void {
  if (begun || !isShown()) return
  begun = true
  may = isAllowed()
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

/** An event of the page's own. */
function hear(name: string, facts: Facts | boolean): void {
  begin()
  if (typeof facts === 'object') {
    if (rules) rules.own(name, facts)
    else early.push([name, facts])
    send(name, facts)
  } else if (name === 'consent') answer(facts)
}
/** What the visitor says to being followed. */
function answer(yes: boolean): void {
  may = yes && !objects
  if (may) {
    arrive()
    startNetworks()
  } else {
    tellNetworks = null
    keepWaiting(false, [])
    forget()
    // Nobody asked: that the answer is no has to be known on the next page.
    if (consent !== 'required') remember({ refused: true })
  }
  fillFields()
}
Object.assign(window, {
  aequant(name: string, facts: Facts | boolean = {}) {
    onceShown(() => hear(name, facts))
  },
})
addEventListener('submit', fillFields, true)
// A page that the browser had kept is seen again; what it told of itself it does not tell again.
addEventListener('pageshow', ({ persisted }) => {
  if (!persisted || !begun) return
  may = isAllowed()
  if (!may) tellNetworks = null
  if (test) view = mintId()
  send('page', {})
  if (doing?.test) dispatchEvent(new CustomEvent('aequant-page', { detail: view }))
  fillFields()
})

const whenIdle = () => {
  setTimeout(() => (window.requestIdleCallback ?? setTimeout)(begin), REST_MS)
  setTimeout(begin, LATEST_BEGIN_MS)
}
onceShown(() => {
  watchPages(turn)
  // Before a click or a sent form comes one of these: nothing of what a visitor does is missed.
  for (const kind of ['pointerdown', 'keydown', 'touchstart', 'click', 'submit'])
    addEventListener(kind, begin, { capture: true, once: true, passive: true })
  // Who comes by an ad may go on at once, and networks have to learn their click ID on this very page.
  if (readTouch()) begin()
  else if (document.readyState === 'complete') whenIdle()
  else addEventListener('load', whenIdle)
})
