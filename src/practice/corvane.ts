import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { get } from 'node:http'
import { dirname } from 'node:path'
import * as z from 'zod'
import { escapeHtml, page } from './html'

const ACCENT = '#5b3a86'
const OFFER = { name: 'Weave your first cloth, an online course', price: '49.00', currency: 'EUR' }

const stateSchema = z.object({
  /** the address that its customer pasted, with Corvane's macros */
  postback: z.string(),
  deals: z.array(
    z.object({
      id: z.string(),
      at: z.number(),
      /** the sub-IDs p1 to p6 that came with the offer link */
      subIds: z.record(z.string(), z.string()),
      state: z.enum(['open', 'ok', 'void']),
      told: z.string(),
    }),
  ),
})
type Deal = z.infer<typeof stateSchema>['deals'][number]

/** The stand-in for the partner network Corvane: shows an offer, books deals, and tells of them by postback. */
export function corvane(file: string) {
  const state = stateSchema.parse(
    existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : { postback: '', deals: [] },
  )
  const save = () => {
    mkdirSync(dirname(file), { recursive: true })
    writeFileSync(`${file}.new`, JSON.stringify(state))
    renameSync(`${file}.new`, file)
  }
  const takePostback = (address: string) => {
    state.postback = z.url({ protocol: /^https?$/ }).parse(address)
    save()
  }

  const offer = (subIds: URLSearchParams) =>
    page(
      'Weaving course',
      `<header><h1>${OFFER.name}</h1><small>Corvane, a practice partner network</small></header>
<p>Twelve evenings, from warping to finishing. ${OFFER.price} €.</p>
<form method="post" action="/enrol?${escapeHtml(subIds.toString())}"><button>Enrol for ${OFFER.price} €</button></form>`,
      ACCENT,
    )

  /** Books a deal and tells of it. */
  async function enrol(given: URLSearchParams, at: number): Promise<string> {
    const subIds = Object.fromEntries([...given].filter(([key]) => /^p[1-6]$/.test(key)))
    const deal: Deal = { id: `CV${at.toString(36).toUpperCase()}`, at, subIds, state: 'ok', told: '' }
    state.deals.push(deal)
    save()
    await tell(deal)
    return page(
      'Enrolled',
      `<header><h1>You are enrolled</h1></header><p data-deal="${deal.id}">Your deal is ${deal.id}.</p>`,
      ACCENT,
    )
  }

  async function settle(id: string, to: string): Promise<void> {
    const deal = state.deals.find(d => d.id === id)
    if (!deal) return
    deal.state = stateSchema.shape.deals.element.shape.state.parse(to)
    await tell(deal)
  }

  /** Calls the postback address with every macro filled in. */
  async function tell(deal: Deal): Promise<void> {
    const values: Record<string, string> = {
      ...deal.subIds,
      deal: deal.id,
      amount: OFFER.price,
      cur: OFFER.currency,
      state: deal.state,
    }
    const address = state.postback.replace(/#(p[1-6]|deal|amount|cur|state)#/g, (_, macro: string) =>
      encodeURIComponent(values[macro] ?? ''),
    )
    deal.told = state.postback ? await call(address) : 'no postback address'
    save()
  }

  const deals = () =>
    page(
      'Corvane: deals',
      `<header><h1>Deals</h1><small>Corvane, a practice partner network</small></header>
<form method="post" action="/postback"><label>Postback address <input name="address" size="60" value="${escapeHtml(state.postback)}"></label><button>Save</button></form>
${
  [...state.deals]
    .reverse()
    .map(
      d =>
        `<article>${escapeHtml(d.id)} · ${OFFER.price} ${OFFER.currency} · ${d.state} · p1 ${escapeHtml(d.subIds.p1 ?? 'empty')} · told: ${escapeHtml(d.told)}
<form method="post" action="/settle?deal=${encodeURIComponent(d.id)}"><button name="to" value="ok">Approve</button> <button name="to" value="open">Hold</button> <button name="to" value="void">Reverse</button></form></article>`,
    )
    .join('') || '<p>None yet.</p>'
}`,
      ACCENT,
    )

  return { takePostback, offer, enrol, settle, deals }
}

/** Host names that end in .localhost are this machine, which Node does not know by itself. */
function call(address: string): Promise<string> {
  const { hostname, port, pathname, search, host } = new URL(address)
  return new Promise(done => {
    get(
      {
        host: hostname.endsWith('localhost') ? '127.0.0.1' : hostname,
        port,
        path: pathname + search,
        headers: { host },
      },
      response => {
        response.resume()
        response.on('end', () => done(String(response.statusCode)))
      },
    ).on('error', () => done('no answer'))
  })
}
