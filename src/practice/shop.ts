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
/** The tags that stand on every page: the network's, and ours when the shop has its site key. */
export interface Tags {
  network: string
  collector: string
  site: string | null
  /** `required` where the shop asks its visitors first */
  consent: string | null
}
const tag = ({ network, collector, site, consent }: Tags) =>
  `<script src="${network}/tag.js"></script>${site ? `<script async src="${collector}/aq.js" data-site="${escapeHtml(site)}"${consent ? ' data-consent="required"' : ''}></script>` : ''}`

export const kitsPage = (tags: Tags): string =>
  page(
    'Tarnbrook Looms',
    `${head('Table looms and yarn')}${products
      .map(
        (p, i) =>
          `<article id="p${i}"><b>${escapeHtml(p.name)}</b> — ${formatAmount(p.price, CURRENCY)} € <a class="button" href="/buy/${i}">Buy ${escapeHtml(p.name)}</a></article>`,
      )
      .join('')}${tag(tags)}`,
    ACCENT,
  )

/** The landing page of the course, which a partner sells: its link goes on over the tracking domain. */
export const coursePage = (tags: Tags): string =>
  page(
    'Learn to weave',
    `${head('Learn to weave at home')}<p>Twelve evenings with a table loom, taught online.</p><p><a class="button" data-aq-out href="${tags.collector}/c/course/next">See the course</a></p>${tag(tags)}`,
    ACCENT,
  )

export function checkoutPage(index: number, tags: Tags): string | null {
  const product = products[index]
  return product
    ? page(
        'Checkout',
        `${head('Checkout')}<form method="post" action="/order"><input type="hidden" name="product" value="${index}"><input type="hidden" name="click_id" data-aq="click_id"><input type="hidden" name="visitor_id" data-aq="visitor_id"><p>${escapeHtml(product.name)}, ${formatAmount(product.price, CURRENCY)} €</p>
<label>E-mail <input name="email" type="email" required autofocus></label><button>Place the order</button></form>${tag(tags)}`,
        ACCENT,
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
    `${head('Thank you')}<p data-order="${escapeHtml(id)}" data-cents="${cents}" data-currency="${CURRENCY}">Your order ${escapeHtml(id)} over ${formatAmount(cents, CURRENCY)} € is booked.</p><p><a href="/kits">Back to the looms</a></p>${tag(tags)}`,
    ACCENT,
  )
