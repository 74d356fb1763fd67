import type { Outgoing } from '@/core/signals/outgoing'
import type { TagCode } from '@/core/signals/tagCode'

/** What a network gives its customers to install, and how it listens. */
export interface StandIn {
  id: string
  name: string
  accent: string
  /** our account there, and the key of its server interface */
  account: string
  key: string
  /** the event types that it has */
  slots: { standard: string[]; generic: string[] }
  tag: TagCode
  outgoing: Outgoing
  /** whether every event counts or one for each click, and which of a shopper's clicks is credited */
  counts: 'every' | 'once_per_click'
  credits: 'last_click' | 'first_click'
  /** whether it lists what it claims, or sums it by day and ad, as most do */
  claims: 'listed' | 'summed'
  /** how long it takes to report what it claims; real ones take hours */
  reportsAfterMs: number
  /** by what it knows a shopper again: its tag's storage on the site, or a cookie of its own */
  knowsBy: 'storage' | 'cookie'
  /** the path of its script, and the script's own words: `tell(event, facts)` sends */
  script: { path: string; words: string } | null
  /** facts of an event that its server interface was sent; null where it cannot read them */
  readEvent: (sent: { path: string; query: URLSearchParams; body: string }) => Facts | null
  /** the key that came along */
  readKey: (sent: { query: URLSearchParams; headers: Record<string, string | undefined> }) => string
}
/** An event as a network hears of it, in its customers' values. */
export interface Facts {
  account: string
  event: string
  event_id: string
  transaction: string
  value: string
  currency: string
  /** the network's own click ID */
  ref: string
  test: boolean
}

const text = (value: unknown): string =>
  typeof value === 'string' || typeof value === 'number' ? String(value) : ''
const parsed = (body: string): Record<string, unknown> => {
  const value: unknown = JSON.parse(body)
  return typeof value === 'object' && value !== null ? { ...value } : {}
}

/** The stand-ins with a tag. Each writes its code, its requests and its server interface in a way of its own. */
export const standIns = (origin: (id: string) => string): StandIn[] => [
  norrfeed(origin('norrfeed')),
  kelpie(origin('kelpie')),
  mothwire(origin('mothwire')),
  guildpost(origin('guildpost')),
  whyfold(origin('whyfold')),
]

const norrfeed = (origin: string): StandIn => ({
  id: 'norrfeed',
  name: 'Norrfeed',
  accent: '#8a5a00',
  account: 'nf-tarnbrook',
  key: 'practice-key-norrfeed',
  slots: { standard: ['purchase', 'sign_up', 'enquiry'], generic: ['other_1', 'other_2'] },
  tag: {
    base: `<script src="${origin}/tag.js" data-account="{account}"></script>`,
    event: `norrfeed.tell('{event}', { value: '{value}', currency: '{currency}', order: '{transaction}', mark: '{event_id}', trial: '{test}' })`,
    requests: {
      script: `${origin}/tag.js`,
      hit: `${origin}/hit`,
      parameters: {
        account: 'acc',
        event: 'ev',
        value: 'value',
        currency: 'currency',
        transaction: 'order',
        event_id: 'mark',
        test: 'trial',
      },
      page_view: 'page',
    },
  },
  outgoing: {
    method: 'POST',
    address: `${origin}/server/events`,
    headers: [
      { name: 'content-type', value: 'application/json' },
      { name: 'authorization', value: 'Bearer {secret}' },
    ],
    body: `{ "account": "{account}", "name": "{event}", "mark": "{event_id}", "ref": "{click_id}", "at": {at_seconds}, "value": {value}, "currency": "{currency}", "order": "{transaction}", "trial": "{test}" }`,
  },
  counts: 'every',
  credits: 'last_click',
  claims: 'summed',
  reportsAfterMs: 500,
  knowsBy: 'storage',
  script: {
    path: '/tag.js',
    words: `var account=document.currentScript.dataset.account;
window.norrfeed={tell:function(name,o){tell({acc:account,ev:name,value:o.value,currency:o.currency,order:o.order,mark:o.mark,trial:o.trial})}};`,
  },
  readEvent: ({ body }) => {
    const o = parsed(body)
    return {
      account: text(o.account),
      event: text(o.name),
      event_id: text(o.mark),
      transaction: text(o.order),
      value: text(o.value),
      currency: text(o.currency),
      ref: text(o.ref),
      test: text(o.trial) !== '',
    }
  },
  readKey: ({ headers }) => (headers.authorization ?? '').replace(/^Bearer /, ''),
})

const kelpie = (origin: string): StandIn => ({
  id: 'kelpie',
  name: 'Kelpie',
  accent: '#1f6f54',
  account: '77-410',
  key: 'practice-key-kelpie',
  slots: { standard: ['purchase', 'lead', 'call'], generic: ['custom_a', 'custom_b', 'custom_c'] },
  tag: {
    base: `<script src="${origin}/k.js"></script>\n<script>kelpie({ account: '{account}' })</script>`,
    event: `kelpie({ count: '{event}', worth: '{value}', unit: '{currency}', number: '{transaction}', once: '{event_id}', trial: '{test}' })`,
    requests: {
      script: `${origin}/k.js`,
      hit: `${origin}/count`,
      parameters: {
        account: 'a',
        event: 'c',
        value: 'w',
        currency: 'u',
        transaction: 'n',
        event_id: 'o',
        test: 't',
      },
      page_view: 'page',
    },
  },
  outgoing: {
    method: 'POST',
    address: `${origin}/upload`,
    headers: [
      { name: 'content-type', value: 'application/x-www-form-urlencoded' },
      { name: 'kelpie-key', value: '{secret}' },
    ],
    body: 'a={account}&c={event}&w={value}&u={currency}&n={transaction}&o={event_id}&kpid={click_id}&time={at}&t={test}',
  },
  counts: 'once_per_click',
  credits: 'last_click',
  claims: 'listed',
  reportsAfterMs: 2000,
  knowsBy: 'storage',
  script: {
    path: '/k.js',
    words: `var account='';
window.kelpie=function(o){if(o.account)account=o.account;
if(o.count)tell({a:account,c:o.count,w:o.worth,u:o.unit,n:o.number,o:o.once,t:o.trial})};`,
  },
  readEvent: ({ body }) => {
    const q = new URLSearchParams(body)
    return { ...factsBy(q, kelpieNames), ref: q.get('kpid') ?? '' }
  },
  readKey: ({ headers }) => headers['kelpie-key'] ?? '',
})
const kelpieNames = {
  account: 'a',
  event: 'c',
  value: 'w',
  currency: 'u',
  transaction: 'n',
  event_id: 'o',
  test: 't',
}

/** Facts in a query, by the names that a network has for them. */
export const factsBy = (query: URLSearchParams, names: Partial<Record<string, string>>): Facts => {
  const at = (key: string) => query.get(names[key] ?? '') ?? ''
  return {
    account: at('account'),
    event: at('event'),
    event_id: at('event_id'),
    transaction: at('transaction'),
    value: at('value'),
    currency: at('currency'),
    ref: query.get('ref') ?? '',
    test: at('test') !== '',
  }
}

const mothwireNames = {
  account: 'who',
  event: 'what',
  value: 'sum',
  currency: 'cur',
  transaction: 'sale',
  event_id: 'key',
  test: 'trial',
}
const mothwire = (origin: string): StandIn => ({
  id: 'mothwire',
  name: 'Mothwire',
  accent: '#5b4a8a',
  account: 'mw300',
  key: 'practice-key-mothwire',
  slots: { standard: ['purchase', 'visit'], generic: ['event_x', 'event_y'] },
  tag: {
    base: `<img src="${origin}/seen.gif?who={account}" width="1" height="1" alt="">`,
    event: `<img src="${origin}/done.gif?who={account}&what={event}&sum={value}&cur={currency}&sale={transaction}&key={event_id}&trial={test}" width="1" height="1" alt="">`,
    requests: {
      script: `${origin}/seen.gif`,
      hit: `${origin}/done.gif`,
      parameters: mothwireNames,
      page_view: 'seen',
    },
  },
  outgoing: {
    method: 'GET',
    address: `${origin}/server/done?who={account}&what={event}&sum={value}&cur={currency}&sale={transaction}&key={event_id}&mwclick={click_id}&pass={secret}&trial={test}`,
    headers: [],
    body: '',
  },
  counts: 'every',
  credits: 'last_click',
  claims: 'summed',
  reportsAfterMs: 4000,
  knowsBy: 'cookie',
  script: null,
  readEvent: ({ query }) => ({ ...factsBy(query, mothwireNames), ref: query.get('mwclick') ?? '' }),
  readKey: ({ query }) => query.get('pass') ?? '',
})

const guildpost = (origin: string): StandIn => ({
  id: 'guildpost',
  name: 'Guildpost',
  accent: '#7a3b2e',
  account: 'member-2208',
  key: 'practice-key-guildpost',
  slots: { standard: ['deal', 'request'], generic: ['step_1', 'step_2', 'step_3'] },
  tag: {
    base: `<script src="${origin}/guild.js" data-member="{account}"></script>`,
    event: `guildpost.note({ step: '{event}', amount: '{value}', in: '{currency}', ref: '{transaction}', note: '{event_id}', rehearsal: '{test}' })`,
    requests: {
      script: `${origin}/guild.js`,
      hit: `${origin}/noted`,
      parameters: {
        account: 'member',
        event: 'step',
        value: 'amount',
        currency: 'in',
        transaction: 'deal',
        event_id: 'note',
        test: 'rehearsal',
      },
      page_view: 'opened',
    },
  },
  outgoing: {
    method: 'PUT',
    address: `${origin}/members/{account}/notes/{event_id}`,
    headers: [
      { name: 'content-type', value: 'application/json' },
      { name: 'guildpost-key', value: '{secret}' },
    ],
    body: `{ "step": "{event}", "amount": "{value}", "in": "{currency}", "deal": "{transaction}", "visit": "{click_id}", "at": "{at}", "rehearsal": "{test}" }`,
  },
  counts: 'once_per_click',
  credits: 'first_click',
  claims: 'summed',
  reportsAfterMs: 6000,
  knowsBy: 'storage',
  script: {
    path: '/guild.js',
    words: `var member=document.currentScript.dataset.member;
window.guildpost={note:function(o){tell({member:member,step:o.step,amount:o.amount,'in':o['in'],deal:o.ref,note:o.note,rehearsal:o.rehearsal})}};`,
  },
  readEvent: ({ path, body }) => {
    const [, account = '', note = ''] = /^\/members\/([^/]+)\/notes\/([^/]+)$/.exec(path) ?? []
    const o = parsed(body)
    return {
      account: decodeURIComponent(account),
      event: text(o.step),
      event_id: decodeURIComponent(note),
      transaction: text(o.deal),
      value: text(o.amount),
      currency: text(o.in),
      ref: text(o.visit),
      test: text(o.rehearsal) !== '',
    }
  },
  readKey: ({ headers }) => headers['guildpost-key'] ?? '',
})

const whyfold = (origin: string): StandIn => ({
  id: 'whyfold',
  name: 'Whyfold',
  accent: '#2d5f8a',
  account: 'wf0915',
  key: 'practice-key-whyfold',
  slots: { standard: ['bought', 'joined'], generic: ['answered'] },
  tag: {
    base: `<script>window.whyfoldAccount = '{account}'</script>\n<script src="${origin}/why.js"></script>`,
    event: `dispatchEvent(new CustomEvent('whyfold', { detail: { happened: '{event}', sum: '{value}', money: '{currency}', basket: '{transaction}', once: '{event_id}', practice: '{test}' } }))`,
    requests: {
      script: `${origin}/why.js`,
      hit: `${origin}/happened`,
      parameters: {
        account: 'acc',
        event: 'happened',
        value: 'sum',
        currency: 'money',
        transaction: 'basket',
        event_id: 'once',
        test: 'practice',
      },
      page_view: 'looked',
    },
  },
  outgoing: {
    method: 'POST',
    address: `${origin}/from-server`,
    headers: [
      { name: 'content-type', value: 'application/json' },
      { name: 'x-key', value: '{secret}' },
    ],
    body: `{ "acc": "{account}", "happened": "{event}", "once": "{event_id}", "click": "{click_id}", "sum": {value}, "money": "{currency}", "basket": "{transaction}", "when": "{at}", "practice": "{test}" }`,
  },
  counts: 'every',
  credits: 'last_click',
  claims: 'summed',
  reportsAfterMs: 3000,
  knowsBy: 'storage',
  script: {
    path: '/why.js',
    words: `addEventListener('whyfold',function(e){var o=e.detail;
tell({acc:window.whyfoldAccount,happened:o.happened,sum:o.sum,money:o.money,basket:o.basket,once:o.once,practice:o.practice})});`,
  },
  readEvent: ({ body }) => {
    const o = parsed(body)
    return {
      account: text(o.acc),
      event: text(o.happened),
      event_id: text(o.once),
      transaction: text(o.basket),
      value: text(o.sum),
      currency: text(o.money),
      ref: text(o.click),
      test: text(o.practice) !== '',
    }
  },
  readKey: ({ headers }) => headers['x-key'] ?? '',
})
