import { createHash } from 'node:crypto'
import { formatAmount } from '@/core/shared/money'
import { deliver } from './deliver'
import { escapeHtml, page } from './html'
import { products } from './market/catalog'

const ACCENT = '#0d5c63'
const CURRENCY = 'EUR'
const TOUCH_KEYS = [
  'aq_click',
  'utm_source',
  'utm_medium',
  'utm_campaign',
  'utm_term',
  'utm_content',
] as const

/** What the shop remembers of how a shopper came: its own cookie, set on arrival. */
export type Touch = Partial<Record<(typeof TOUCH_KEYS)[number] | 'landing_url', string>>

/** The touch that an arrival's address carries; null when it carries none. */
export function touchOf(address: URL): Touch | null {
  const touch: Touch = {}
  for (const key of TOUCH_KEYS) {
    const value = address.searchParams.get(key)
    if (value) touch[key] = value
  }
  return Object.keys(touch).length > 0 ? { ...touch, landing_url: address.href.slice(0, 2000) } : null
}

const head = (title: string) =>
  `<header><h1>${title}</h1><small>Tarnbrook Looms, a practice shop</small></header>`
/** Ways in which the shop's tags can be wrong on purpose, so that each finding can be met. */
export const breakages = {
  none: 'nothing is broken',
  base_missing: 'the base code is missing',
  base_twice: 'the base code is there twice',
  base_not_in_head: 'the base code stands in the body',
  wrong_account: 'the base code names another account',
  insecure_tag: 'the base code is fetched without encryption',
} as const
export type Breakage = keyof typeof breakages

/** Our account at the practice network, as the hand-off has it. */
export const ACCOUNT = 'nf-tarnbrook'

/** The tags that stand on every page: the network's, and ours when the shop has its site key. */
export interface Tags {
  broken: Breakage
  network: string
  collector: string
  site: string | null
  /** `required` where the shop asks its visitors first */
  consent: string | null
}
const networkTag = (network: string, broken: Breakage): string => {
  const origin = broken === 'insecure_tag' ? 'http://tags.norrfeed.example' : network
  const account = broken === 'wrong_account' ? 'nf-somebody-else' : ACCOUNT
  const base = `<script src="${origin}/tag.js" data-account="${account}"></script>`
  if (broken === 'base_missing' || broken === 'base_not_in_head') return ''
  return broken === 'base_twice' ? `${base}\n${base}` : base
}
const tag = ({ network, collector, site, consent, broken }: Tags) =>
  `${site ? `<script async src="${collector}/aq.js" data-site="${escapeHtml(site)}"${consent ? ' data-consent="required"' : ''}></script>\n` : ''}${networkTag(network, broken)}`
/** A tag where it does not belong. */
const strayTag = ({ network, broken }: Tags) =>
  broken === 'base_not_in_head' ? networkTag(network, 'none') : ''

export const kitsPage = (tags: Tags): string =>
  page(
    'Tarnbrook Looms',
    `${head('Table looms and yarn')}${products
      .map(
        (p, i) =>
          `<article id="p${i}"><b>${escapeHtml(p.name)}</b> — ${formatAmount(p.price, CURRENCY)} € <a class="button" href="/buy/${i}">Buy ${escapeHtml(p.name)}</a></article>`,
      )
      .join('')}${strayTag(tags)}`,
    ACCENT,
    tag(tags),
  )

/** The landing page of the course, which a partner sells: its link goes on over the tracking domain. */
export const coursePage = (tags: Tags): string =>
  page(
    'Learn to weave',
    `${head('Learn to weave at home')}<p>Twelve evenings with a table loom, taught online.</p><p><a class="button" data-aq-out href="${tags.collector}/c/course/next">See the course</a></p>`,
    ACCENT,
    tag(tags),
  )

export function checkoutPage(index: number, tags: Tags): string | null {
  const product = products[index]
  return product
    ? page(
        'Checkout',
        `${head('Checkout')}<form method="post" action="/order"><input type="hidden" name="product" value="${index}"><input type="hidden" name="click_id" data-aq="click_id"><input type="hidden" name="visitor_id" data-aq="visitor_id"><p>${escapeHtml(product.name)}, ${formatAmount(product.price, CURRENCY)} €</p>
<label>E-mail <input name="email" type="email" required autofocus></label><button>Place the order</button></form>`,
        ACCENT,
        tag(tags),
      )
    : null
}

/** Books an order with what the shop remembers of the shopper's way, and sends it to the application. */
export function bookOrder(
  form: URLSearchParams,
  touch: Touch,
  at: number,
): { id: string; cents: number } | null {
  const product = products[Number(form.get('product'))]
  const email = (form.get('email') ?? '').trim().toLowerCase()
  if (!product || !email.includes('@')) return null
  const shipping = product.price > 10_000 ? 0 : 490
  const cents = product.price + shipping
  const id = `P${at.toString(36).toUpperCase()}`
  void deliver('orders', {
    order_id: id,
    ordered_at: new Date(at).toISOString(),
    status: 'paid',
    currency: CURRENCY,
    total: formatAmount(cents, CURRENCY),
    tax: formatAmount(cents - cents / 1.23, CURRENCY),
    shipping: formatAmount(shipping, CURRENCY),
    customer_id: createHash('sha256').update(email).digest('hex').slice(0, 16),
    click_id: form.get('click_id') || touch.aq_click || '',
    visitor_id: form.get('visitor_id') ?? '',
    landing_url: touch.landing_url ?? '',
    utm_source: touch.utm_source ?? '',
    utm_medium: touch.utm_medium ?? '',
    utm_campaign: touch.utm_campaign ?? '',
    utm_term: touch.utm_term ?? '',
    utm_content: touch.utm_content ?? '',
  })
  return { id, cents }
}

export const thanksPage = (id: string, cents: number, tags: Tags): string =>
  page(
    'Thank you',
    `${head('Thank you')}<p data-order="${escapeHtml(id)}" data-cents="${cents}" data-value="${formatAmount(cents, CURRENCY)}" data-currency="${CURRENCY}">Your order ${escapeHtml(id)} over ${formatAmount(cents, CURRENCY)} € is booked.</p><p><a href="/kits">Back to the looms</a></p>`,
    ACCENT,
    tag(tags),
  )

/** Floor looms, which are sold by telephone: a film, a long read, and two ways to ask for a fitting call. */
export const floorLoomsPage = (tags: Tags): string =>
  page(
    'Floor looms',
    `${head('Floor looms, fitted to you')}<p>From 1,900 €, after a fitting call.</p><button class="call"><b>Call</b> us</button> <button class="other">Ask later</button>
<p><a href="/kits?from=floor-looms">Table looms instead</a></p><video controls width="480"></video>
${Array.from({ length: 40 }, (_, i) => `<p>Step ${i + 1}. A floor loom stands for decades; take your time to choose its width, its reed and its place.</p>`).join('\n')}
<p id="fitting">Book a fitting call: Monday to Friday.</p>`,
    ACCENT,
    tag(tags),
  )

/** Gives the pattern booklet away for an e-mail address. */
export const bookletPage = (tags: Tags): string =>
  page(
    'First Warp',
    `${head('First Warp, a pattern booklet')}<p>Eight patterns for your first warp, for your e-mail address.</p><form id="booklet" method="post" action="/booklet"><label>E-mail <input name="email" type="email" required></label><button>Send me the booklet</button></form>`,
    ACCENT,
    tag(tags),
  )

export const bookletThanks = (tags: Tags): string =>
  page(
    'On its way',
    `${head('The booklet is on its way')}<p><a href="/kits">To the looms</a></p>`,
    ACCENT,
    tag(tags),
  )

/** The switch by which the shop is broken on purpose. */
export const breakPage = (now: Breakage): string =>
  page(
    'Break the shop',
    `${head('Break the shop on purpose')}<form method="post" action="/break">${Object.entries(breakages)
      .map(
        ([key, words]) =>
          `<label><input type="radio" name="how" value="${key}"${key === now ? ' checked' : ''}> ${words}</label>`,
      )
      .join('')}<button>Do it</button></form>`,
    ACCENT,
  )
