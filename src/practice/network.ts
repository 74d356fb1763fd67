import { randomBytes } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { dirname } from 'node:path'
import * as z from 'zod'
import { type NetworkProfile, spellings } from '@/core/links/profile'
import { DAY_MS, formatDay, zoneClock } from '@/core/shared/days'
import { formatAmount, NOTHING, parseAmount } from '@/core/shared/money'
import { deliver } from './deliver'
import { escapeHtml, page } from './html'
import { MARKET_ZONE } from './market/simulate'
import type { Facts, StandIn } from './networks'

const named = z.object({ id: z.string(), name: z.string() })
export const practiceAdSchema = z.object({
  campaign: named,
  ad_set: named,
  ad: named,
  destination: z.string(),
  parameters: z.string(),
})
export type PracticeAd = z.infer<typeof practiceAdSchema>

const outcomes = {
  claimed: 'claimed',
  heard_before: 'heard before under the same event ID: counted once',
  counted_before: 'its click has counted already',
  no_click: 'not claimed: no ad click that it may follow',
  too_old: 'not claimed: the click is too old',
  other_account: 'not taken: another account',
  test: 'a test: not counted',
} as const
type Outcome = keyof typeof outcomes

const heardSchema = z.object({
  at: z.number(),
  by: z.enum(['tag', 'server']),
  event: z.string(),
  event_id: z.string(),
  transaction: z.string(),
  value: z.string(),
  currency: z.string(),
  ref: z.string(),
  outcome: z.enum(Object.keys(outcomes) as [Outcome, ...Outcome[]]),
  ad: z.string(),
  reported: z.boolean(),
})
type Heard = z.infer<typeof heardSchema>
/** What is to be served: an ad, else all of an ad set, else all of a campaign, with its share of the usual budget. */
export const servedSchema = z.object({
  campaign: z.string(),
  ad_set: z.string().default(''),
  ad: z.string().default(''),
  /** 0 for one that is paused */
  factor: z.number().min(0).max(100),
})
export type Served = z.infer<typeof servedSchema>
const stateSchema = z.object({
  ads: z.array(practiceAdSchema).default([]),
  clicks: z
    .record(z.string(), z.object({ ad: z.string(), at: z.number(), followed: z.boolean() }))
    .default({}),
  heard: z.array(heardSchema).default([]),
  /** budgets that were changed: of an ad, of an ad set, or of a campaign, as a share of what is usual */
  serving: z.array(servedSchema).default([]),
  /** how many requests to the server interface are still answered by an error, on purpose */
  trouble: z.number().default(0),
})

/**
 * A stand-in for an ad network: shows the ads it was given, fills in dynamic values at the click, hears of
 * events by its tag and its server interface, and claims those that its own rules give it.
 */
export function practiceNetwork(standIn: StandIn, profile: NetworkProfile, file: string) {
  const { name, accent } = standIn
  const clickParameter = profile.click_id_parameter ?? 'click'
  const state = stateSchema.parse(existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : {})
  const save = () => {
    mkdirSync(dirname(file), { recursive: true })
    writeFileSync(`${file}.new`, JSON.stringify(state))
    renameSync(`${file}.new`, file)
  }

  /** Gives ads their addresses, as a marketer pastes them into the network's form. */
  function takeAds(ads: PracticeAd[]) {
    for (const ad of ads) state.ads = [...state.ads.filter(a => a.ad.id !== ad.ad.id), ad]
    save()
  }

  /** Changes budgets, as a customer does in the network's own form: what was said of the same thing before goes. */
  function serve(changes: readonly Served[]) {
    for (const change of changes) {
      const isSame = (one: Served) =>
        one.campaign === change.campaign && one.ad_set === change.ad_set && one.ad === change.ad
      state.serving = [...state.serving.filter(one => !isSame(one)), change].filter(one => one.factor !== 1)
    }
    save()
  }
  /** The share of its usual budget that an ad has at present. */
  function factorOf({ campaign, ad_set, ad }: PracticeAd): number {
    const of = (match: (one: Served) => boolean) => state.serving.find(match)?.factor
    return (
      of(one => one.ad === ad.id) ??
      of(one => one.ad === '' && one.ad_set === ad_set.id && one.campaign === campaign.id) ??
      of(one => one.ad === '' && one.ad_set === '' && one.campaign === campaign.id) ??
      1
    )
  }
  const budgetWords = (factor: number) =>
    factor === 1 ? '' : factor === 0 ? ' · paused' : ` · ${Math.round(factor * 100)} % of its usual budget`

  const feed = (optedOut: boolean) =>
    page(
      name,
      `<header><h1>${name}</h1><small>a practice network</small></header>
<form method="post" action="/opt-out"><p>This shopper ${optedOut ? `<b>has opted out</b> of being followed: ${name} will not learn of a purchase.` : `may be followed: ${name} hears of a purchase and claims it.`}
<button>${optedOut ? 'Allow following' : 'Opt out'}</button></p></form>
<p><a href="/heard">What ${name} heard</a></p>
${
  state.ads
    .filter(ad => factorOf(ad) > 0)
    .map(shown => ({ ...shown, said: budgetWords(factorOf(shown)) }))
    .map(
      ({ ad, campaign, ad_set, said }) =>
        `<article><p><b>${escapeHtml(ad.name)}</b><br><small>Tarnbrook Looms · ${escapeHtml(campaign.name)} › ${escapeHtml(ad_set.name)} · ${escapeHtml(ad.id)}${said}</small></p><a class="button" href="/out/${encodeURIComponent(ad.id)}">See ${escapeHtml(ad.name)}</a></article>`,
    )
    .join('') || '<p>No ads yet.</p>'
}`,
      accent,
    )

  /** Where a click on an ad goes: every dynamic value filled in, percent-encoded. Null for an unknown ad. */
  function clickOut(adId: string, optedOut: boolean, at: number): { to: string; ref: string } | null {
    const found = state.ads.find(a => a.ad.id === adId)
    if (!found || factorOf(found) === 0) return null
    const ref = `${standIn.id.slice(0, 2)}${randomBytes(9).toString('hex')}`
    state.clicks[ref] = { ad: adId, at, followed: !optedOut }
    save()
    const values: Record<string, string> = {
      'campaign.id': found.campaign.id,
      'campaign.name': found.campaign.name,
      'ad_set.id': found.ad_set.id,
      'ad_set.name': found.ad_set.name,
      'ad.id': found.ad.id,
      'ad.name': found.ad.name,
      placement: 'feed',
      keyword: 'table loom',
      match_type: 'phrase',
      device: 'desktop',
      topic: 'weaving',
      'click.id': ref,
    }
    const [base, fragment] = found.destination.split(/#(.*)/s)
    const own = `${clickParameter}=${optedOut ? '' : ref}`
    const query = [found.parameters, own].filter(Boolean).join('&')
    const address = `${base}${base?.includes('?') ? '&' : '?'}${query}${fragment ? `#${fragment}` : ''}`
    const to = spellings(profile.dialect).reduce(
      (text, [spelling, token]) => text.replaceAll(spelling, encodeURIComponent(values[token] ?? '')),
      address,
    )
    return { to, ref: optedOut ? '' : ref }
  }

  /** What becomes of an event by the network's own rules. */
  function judge(facts: Facts, at: number): { outcome: Outcome; ad: string } {
    const without = (outcome: Outcome) => ({ outcome, ad: '' })
    if (facts.account !== standIn.account) return without('other_account')
    if (facts.test) return without('test')
    const before = state.heard.filter(h => h.outcome === 'claimed')
    if (facts.event_id && before.some(h => h.event_id === facts.event_id)) return without('heard_before')
    const click = state.clicks[facts.ref]
    if (!click?.followed) return without('no_click')
    if (at - click.at >= profile.click_window_days * DAY_MS) return without('too_old')
    const again = before.some(h => h.ref === facts.ref && h.event === facts.event)
    if (standIn.counts === 'once_per_click' && again) return without('counted_before')
    return { outcome: 'claimed', ad: click.ad }
  }

  /** Hears of an event; what it claims is reported after its usual delay. */
  function hear(facts: Facts, by: Heard['by'], at: number): Outcome {
    const { account: _, test: __, ...told } = facts
    const heard: Heard = { ...told, at, by, ...judge(facts, at), reported: false }
    state.heard.push(heard)
    save()
    if (heard.outcome === 'claimed') reportLater(heard)
    return heard.outcome
  }

  /** All that it claims of an ad on a day, as it is reported again with each claim more. */
  function dayOf({ at, ad, event, currency }: Heard) {
    const clock = zoneClock(MARKET_ZONE)
    const dateOf = (instant: number) => formatDay(clock(instant).day)
    const claimed = state.heard.filter(
      h =>
        h.outcome === 'claimed' &&
        h.ad === ad &&
        h.event === event &&
        h.currency === currency &&
        dateOf(h.at) === dateOf(at),
    )
    const value = claimed.reduce((sum, h) => sum + (parseAmount(h.value, currency) ?? NOTHING), 0)
    return {
      date: dateOf(at),
      network: standIn.id,
      ad_id: ad,
      conversion: event,
      click_through: claimed.length,
      view_through: 0,
      value: value > 0 ? formatAmount(value, currency) : '',
      currency: value > 0 ? currency : '',
    }
  }

  function reportLater(heard: Heard): void {
    const due = Math.max(0, heard.at + standIn.reportsAfterMs - Date.now())
    setTimeout(async () => {
      if (standIn.claims === 'listed')
        await deliver('claim-rows', {
          claimed_at: new Date(heard.at).toISOString(),
          network: standIn.id,
          ad_id: heard.ad,
          conversion: heard.event,
          kind: 'click',
          transaction_id: heard.transaction,
          click_id: heard.ref,
          value: heard.value,
          currency: heard.value ? heard.currency : '',
        })
      else await deliver('claims', dayOf(heard))
      heard.reported = true
      save()
    }, due).unref()
  }
  for (const heard of state.heard) if (heard.outcome === 'claimed' && !heard.reported) reportLater(heard)

  /** One request to the server interface: what is answered, in the network's way. */
  function hearServer(
    sent: Parameters<StandIn['readEvent']>[0] & Parameters<StandIn['readKey']>[0],
    at: number,
  ): { status: number; body: object } {
    if (state.trouble > 0) {
      state.trouble -= 1
      save()
      return { status: 503, body: { error: 'overloaded' } }
    }
    if (standIn.readKey(sent) !== standIn.key) return { status: 401, body: { error: 'wrong key' } }
    const facts = readOrNull(() => standIn.readEvent(sent))
    if (!facts?.event) return { status: 400, body: { error: 'unreadable' } }
    if (facts.account !== standIn.account) return { status: 404, body: { error: 'no such account' } }
    return { status: 200, body: { outcome: hear(facts, 'server', at) } }
  }

  function makeTrouble(times: number): void {
    state.trouble = times
    save()
  }

  /** What the account serves otherwise than usual. */
  const servingPage = () =>
    page(
      `${name}: budgets`,
      `<header><h1>Budgets at ${name}</h1><a href="/">back</a></header>
${
  state.serving
    .map(
      one =>
        `<article><b>${escapeHtml(one.ad || one.ad_set || one.campaign)}</b>${one.factor === 0 ? ' · paused' : budgetWords(one.factor)}</article>`,
    )
    .join('') || '<p>All as usual.</p>'
}`,
      accent,
    )
  const served = () =>
    state.serving.map(one => ({
      network: standIn.id,
      campaign: one.campaign,
      adSet: one.ad_set,
      ad: one.ad,
      factor: one.factor,
    }))

  const heardPage = () =>
    page(
      `${name}: heard`,
      `<header><h1>What ${name} heard</h1><a href="/">back</a></header>
<form method="post" action="/trouble"><button name="times" value="2">Answer the next two servers by an error</button>${state.trouble > 0 ? ` <small>${state.trouble} to come</small>` : ''}</form>
${
  state.heard
    .toReversed()
    .map(
      h =>
        `<article>${new Date(h.at).toISOString()} · <b>${escapeHtml(h.event)}</b> ${escapeHtml(h.transaction)} ${escapeHtml(h.value)} ${escapeHtml(h.currency)} · by ${h.by === 'tag' ? 'its tag' : 'server'} · ${outcomes[h.outcome]}${h.ad ? ` for ad ${escapeHtml(h.ad)}` : ''}<br><small>${escapeHtml(h.event_id) || 'no event ID'}</small></article>`,
    )
    .join('') || '<p>Nothing yet.</p>'
}`,
      accent,
    )

  /** The network's tag, as a script on its customers' pages. */
  const script = (origin: string): string => {
    const kept = JSON.stringify(`${standIn.id}_ref`)
    const keep = standIn.credits === 'first_click' ? `if(r&&!localStorage.getItem(${kept}))` : 'if(r)'
    const hit = JSON.stringify(`${origin}${new URL(standIn.tag.requests?.hit ?? origin).pathname}`)
    return `(function(){
var r=new URLSearchParams(location.search).get('${clickParameter}');
${keep}localStorage.setItem(${kept},r);
function tell(o){o.ref=localStorage.getItem(${kept})||'';
fetch(${hit}+'?'+new URLSearchParams(o),{keepalive:true,credentials:'omit'}).catch(function(){})}
${standIn.script?.words ?? ''}
})();`
  }

  return {
    takeAds,
    serve,
    served,
    servingPage,
    feed,
    clickOut,
    hear,
    hearServer,
    makeTrouble,
    heardPage,
    script,
  }
}

function readOrNull<T>(read: () => T): T | null {
  try {
    return read()
  } catch {
    return null
  }
}
