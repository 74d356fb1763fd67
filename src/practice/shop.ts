import { createHash } from 'node:crypto'
import { formatAmount } from '@/core/shared/money'
import { TEST_MARK } from '@/core/signals/fillCode'
import { deliver } from './deliver'
import { escapeHtml, page } from './html'
import { type Breakage, breakages, type OrderValues, type PageTags } from './installed'
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

/** Addresses of the shop that lead on to its kits, each mistreating what a click carries in a way of its own. */
export const detours: Readonly<Record<string, (query: string) => string>> = {
  '/old/kits': () => '/kits',
  '/winter': query => `/kits?${query}&utm_source=winter-page`,
  '/go/kits': query => `/kits?${query.replaceAll('%', '%25')}`,
}

const shopPage = (title: string, body: string, tags: PageTags) =>
  page(title, `${body}${tags.body}`, ACCENT, tags.head)
const head = (title: string) =>
  `<header><h1>${title}</h1><small>Tarnbrook Looms, a practice shop</small></header>`
export const kitsPage = (tags: PageTags): string =>
  shopPage(
    'Tarnbrook Looms',
    `${head('Table looms and yarn')}<p><a href="/booklet">A free pattern booklet</a> · <a href="/floor-looms">Floor looms</a></p>${products
      .map(
        (p, i) =>
          `<article id="p${i}"><a href="/kits/${i}"><b>${escapeHtml(p.name)}</b></a> — ${formatAmount(p.price, CURRENCY)} € <a class="button" href="/buy/${i}">Buy ${escapeHtml(p.name)}</a></article>`,
      )
      .join('')}`,
    tags,
  )

export function kitPage(index: number, tags: PageTags): string | null {
  const product = products[index]
  return product
    ? shopPage(
        product.name,
        `${head(escapeHtml(product.name))}<p>${formatAmount(product.price, CURRENCY)} €, made to last.</p><a class="button" href="/basket?product=${index}">Put it in the basket</a>`,
        tags,
      )
    : null
}

export function basketPage(index: number, tags: PageTags): string | null {
  const product = products[index]
  return product
    ? shopPage(
        'Basket',
        `${head('Basket')}<p>${escapeHtml(product.name)}, ${formatAmount(product.price, CURRENCY)} €</p><a class="button" href="/buy/${index}">To the checkout</a>`,
        tags,
      )
    : null
}

/** The landing page of the course, which a partner sells: its link goes on over the tracking domain. */
export const coursePage = (collector: string, tags: PageTags): string =>
  shopPage(
    'Learn to weave',
    `${head('Learn to weave at home')}<p>Twelve evenings with a table loom, taught online.</p><p><a class="button" data-aq-out href="${collector}/c/course/next">See the course</a></p>`,
    tags,
  )

export function checkoutPage(index: number, tags: PageTags): string | null {
  const product = products[index]
  return product
    ? shopPage(
        'Checkout',
        `${head('Checkout')}<form method="post" action="/order"><input type="hidden" name="product" value="${index}">${['click_id', 'visitor_id', 'test'].map(name => `<input type="hidden" name="${name}" data-aq="${name}">`).join('')}<p>${escapeHtml(product.name)}, ${formatAmount(product.price, CURRENCY)} €</p>
<label>E-mail <input name="email" type="email" required autofocus></label><button>Place the order</button></form>`,
        tags,
      )
    : null
}

/** Books an order with what the shop remembers of the shopper's way, and sends it to the application. */
export function bookOrder(
  form: URLSearchParams,
  touch: Touch,
  at: number,
): { id: string; cents: number; test: boolean } | null {
  const product = products[Number(form.get('product'))]
  const email = (form.get('email') ?? '').trim().toLowerCase()
  if (!product || !email.includes('@')) return null
  const shipping = product.price > 10_000 ? 0 : 490
  const cents = product.price + shipping
  const id = `P${at.toString(36).toUpperCase()}`
  const test = Boolean(form.get('test'))
  void deliver('orders', {
    order_id: id,
    ordered_at: new Date(at).toISOString(),
    status: test ? 'test' : 'paid',
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
    product_group: product.group,
  })
  return { id, cents, test }
}

/** What the thank-you page says of its order to the tags on it. */
export const orderValues = (id: string, cents: number, test: boolean): OrderValues => ({
  transaction: id,
  value: formatAmount(cents, CURRENCY),
  currency: CURRENCY,
  test: test ? TEST_MARK : '',
})

export const thanksPage = (id: string, cents: number, tags: PageTags): string =>
  shopPage(
    'Thank you',
    `${head('Thank you')}<p data-order="${escapeHtml(id)}" data-value="${formatAmount(cents, CURRENCY)}" data-currency="${CURRENCY}">Your order ${escapeHtml(id)} over ${formatAmount(cents, CURRENCY)} € is booked.</p><p><a href="/kits">Back to the looms</a></p>`,
    tags,
  )

/** Floor looms, which are sold by telephone: a film, a long read, and two ways to ask for a fitting call. */
export const floorLoomsPage = (tags: PageTags): string =>
  shopPage(
    'Floor looms',
    `${head('Floor looms, fitted to you')}<p>From 1,900 €, after a fitting call.</p><button class="call"><b>Call</b> us</button> <button class="other">Ask later</button>
<p><a href="/kits?from=floor-looms">Table looms instead</a></p><video controls width="480"></video>
${Array.from({ length: 40 }, (_, i) => `<p>Step ${i + 1}. A floor loom stands for decades; take your time to choose its width, its reed and its place.</p>`).join('\n')}
<p id="fitting"><a class="button" href="/fitting-call">Book a fitting call</a>: Monday to Friday.</p>`,
    tags,
  )

export const fittingCallPage = (tags: PageTags): string =>
  shopPage(
    'A fitting call',
    `${head('When may we call you?')}<form id="fitting-call" method="post" action="/fitting-call"><label>Telephone <input name="phone" type="tel" required></label><button>Ask for the call</button></form>`,
    tags,
  )

/** Gives the pattern booklet away for an e-mail address. */
export const bookletPage = (tags: PageTags): string =>
  shopPage(
    'First Warp',
    `${head('First Warp, a pattern booklet')}<p>Eight patterns for your first warp, for your e-mail address.</p><form id="booklet" method="post" action="/booklet"><label>E-mail <input name="email" type="email" required></label><button>Send me the booklet</button></form>`,
    tags,
  )

/** What comes after a form: it was taken. */
export const takenPage = (what: string, tags: PageTags): string =>
  shopPage(what, `${head(what)}<p><a href="/kits">To the looms</a></p>`, tags)

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
