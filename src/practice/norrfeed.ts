import { randomBytes } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { dirname } from 'node:path'
import * as z from 'zod'
import { spellings } from '@/core/links/profile'
import { shippedProfiles } from '@/core/links/profiles'
import { formatAmount } from '@/core/shared/money'
import { deliver } from './deliver'
import { escapeHtml, page } from './html'

const named = z.object({ id: z.string(), name: z.string() })
export const practiceAdSchema = z.object({
  campaign: named,
  ad_set: named,
  ad: named,
  destination: z.string(),
  parameters: z.string(),
})
export type PracticeAd = z.infer<typeof practiceAdSchema>
const stateSchema = z.object({
  ads: z.array(practiceAdSchema),
  clicks: z.record(z.string(), z.object({ ad: z.string(), at: z.number(), followed: z.boolean() })),
  heard: z.array(
    z.object({ at: z.number(), transaction: z.string(), value: z.number(), claimed: z.string() }),
  ),
})

const WINDOW_MS = 30 * 86_400_000
const ACCENT = '#8a5a00'
const profile = shippedProfiles.find(p => p.id === 'norrfeed')!

/**
 * The stand-in for the social feed Norrfeed: shows the ads it was given, fills in dynamic values at the
 * click, and claims a purchase when its tag hears of one from a shopper whom it may follow.
 */
export function norrfeed(file: string) {
  const state = existsSync(file)
    ? stateSchema.parse(JSON.parse(readFileSync(file, 'utf8')))
    : stateSchema.parse({ ads: [], clicks: {}, heard: [] })
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

  const feed = (optedOut: boolean) =>
    page(
      'Norrfeed',
      `<header><h1>Norrfeed</h1><small>a practice network</small></header>
<form method="post" action="/opt-out"><p>This shopper ${optedOut ? '<b>has opted out</b> of being followed: Norrfeed will not learn of a purchase.' : 'may be followed: Norrfeed hears of a purchase and claims it.'}
<button>${optedOut ? 'Allow following' : 'Opt out'}</button></p></form>
<p><a href="/report">What Norrfeed heard</a></p>
${state.ads.map(({ ad, campaign, ad_set }) => `<article><p><b>${escapeHtml(ad.name)}</b><br><small>Tarnbrook Looms · ${escapeHtml(campaign.name)} › ${escapeHtml(ad_set.name)} · ${escapeHtml(ad.id)}</small></p><a class="button" href="/out/${encodeURIComponent(ad.id)}">See ${escapeHtml(ad.name)}</a></article>`).join('') || '<p>No ads yet.</p>'}`,
      ACCENT,
    )

  /** Where a click on an ad goes: every dynamic value filled in, percent-encoded. Null for an unknown ad. */
  function clickOut(adId: string, optedOut: boolean, at: number): string | null {
    const found = state.ads.find(a => a.ad.id === adId)
    if (!found) return null
    const reference = `nf${randomBytes(9).toString('hex')}`
    state.clicks[reference] = { ad: adId, at, followed: !optedOut }
    save()
    const values: Record<string, string> = {
      'campaign.id': found.campaign.id,
      'campaign.name': found.campaign.name,
      'ad_set.id': found.ad_set.id,
      'ad_set.name': found.ad_set.name,
      'ad.id': found.ad.id,
      'ad.name': found.ad.name,
      placement: 'feed',
      'click.id': reference,
    }
    const [base, fragment] = found.destination.split(/#(.*)/s)
    const own = `${profile.click_id_parameter}=${optedOut ? '' : reference}`
    const query = [found.parameters, own].filter(Boolean).join('&')
    const address = `${base}${base?.includes('?') ? '&' : '?'}${query}${fragment ? `#${fragment}` : ''}`
    return spellings(profile.dialect).reduce(
      (text, [spelling, token]) => text.replaceAll(spelling, encodeURIComponent(values[token] ?? '')),
      address,
    )
  }

  /** What the tag on the thank-you page reports; claims by Norrfeed's own rule: its last click in 30 days. */
  function hear(reference: string, transaction: string, value: number, currency: string, at: number) {
    const click = state.clicks[reference]
    const already = state.heard.some(h => h.transaction === transaction && h.claimed)
    const claims = click?.followed && at - click.at < WINDOW_MS && !already
    state.heard.push({ at, transaction, value, claimed: claims ? click.ad : '' })
    save()
    if (!claims) return
    void deliver('claim-rows', {
      claimed_at: new Date(at).toISOString(),
      network: profile.id,
      ad_id: click.ad,
      conversion: 'purchase',
      kind: 'click',
      transaction_id: transaction,
      click_id: reference,
      value: formatAmount(value, currency),
      currency,
    })
  }

  const report = () =>
    page(
      'Norrfeed: heard',
      `<header><h1>What Norrfeed heard</h1><a href="/">back</a></header>${state.heard.map(h => `<article>${new Date(h.at).toISOString()} · order ${escapeHtml(h.transaction)} · ${h.claimed ? `claimed for ad ${escapeHtml(h.claimed)}` : 'not claimed: no ad click that it may follow'}</article>`).join('') || '<p>Nothing yet.</p>'}`,
      ACCENT,
    )

  return { takeAds, feed, clickOut, hear, report }
}

/** The network's tag, as a script on the shop's pages: keeps the click reference, reports a purchase. */
export const tagScript = (origin: string): string => `(function(){
var r=new URLSearchParams(location.search).get('${profile.click_id_parameter}');
if(r)localStorage.setItem('norrfeed_ref',r);
function tell(){var o=document.querySelector('[data-order]');
if(o){var q=new URLSearchParams({ref:localStorage.getItem('norrfeed_ref')||'',tx:o.dataset.order,value:o.dataset.cents,currency:o.dataset.currency});
new Image().src='${origin}/hit?'+q}}
if(document.readyState==='loading')addEventListener('DOMContentLoaded',tell);else tell()
})();`
