import { demoFor } from './application'
import { expect, type Page, test } from './test'

const app = demoFor()

interface Arrival {
  id: string
  kind: string
  name?: string
  landing: string | null
  visitor?: string | null
  click?: string | null
  country?: string | null
}
/** Arrivals that carry a mark which only this test uses. */
async function arrivals(page: Page, kind: string, mark: string): Promise<Arrival[]> {
  const { arrivals: all } = await (await page.request.get(`${app.origin}/api/arrivals`)).json()
  return all.filter((a: Arrival) => a.kind === kind && JSON.stringify(a).includes(mark))
}
/** The code on the tracking domain in the link of an ad of Norrfeed. */
async function codeOfAd(page: Page): Promise<string> {
  await page.goto(`${app.origin}/links?network=norrfeed&ad=norrfeed%2Fna102`)
  const shown = page.getByText(/\/c\/[\w-]+/).first()
  await expect(shown).toBeVisible()
  return /\/c\/([\w-]+)/.exec(await shown.innerText())![1]!
}
const kept = (page: Page) => page.evaluate(() => localStorage.getItem('aequant'))

test('the tag reports pages with the click that brought them, and fills the shop’s hidden fields', async ({
  page,
}) => {
  await page.goto(app.norrfeed)
  await page.getByRole('link', { name: /^See / }).first().click()
  await expect(page).toHaveURL(/aq_click=/)
  const click = new URL(page.url()).searchParams.get('aq_click')!
  await expect.poll(async () => (await arrivals(page, 'event', click)).length).toBe(1)
  const [event] = await arrivals(page, 'event', click)
  expect(event).toMatchObject({ name: 'page', click, visitor: expect.stringMatching(/^[0-9a-f-]{36}$/) })
  await page.getByRole('link', { name: 'Buy Table loom kit 40' }).click()
  await expect(page.locator('input[data-aq="click_id"]')).toHaveValue(click)
  await expect(page.locator('input[data-aq="visitor_id"]')).toHaveValue(event!.visitor!)
  await page.getByLabel('E-mail').fill('rui@post.example')
  await page.getByRole('button', { name: 'Place the order' }).click()
  const order = /P[0-9A-Z]{7,9}/.exec(await page.locator('[data-order]').innerText())![0]
  await expect.poll(async () => (await arrivals(page, 'order', order)).length).toBe(1)
  await page.goto(`${app.origin}/intake`)
  await page.getByRole('button', { name: 'orders', exact: true }).click()
  await page
    .getByRole('button', { name: /Norrfeed › .* proven/ })
    .first()
    .click()
  await expect(page.getByRole('region', { name: 'The whole record' })).toContainText(order)
  await expect(page.getByRole('region', { name: 'The whole record' })).toContainText(click)
  const way = page.getByRole('region', { name: 'Its way' })
  await expect(way.getByRole('listitem').first()).toContainText('Norrfeed')
  await expect(way.getByRole('listitem').filter({ hasText: order })).toBeVisible()
})

test('the feed renews itself, and waits while it is paused', async ({ page }) => {
  const arrive = (mark: string) =>
    page.request.get(
      `${app.collector}/c/${code}?utm_source=norrfeed&utm_content=na102&utm_term=${mark}&spot=${mark}`,
      {
        maxRedirects: 0,
        headers: { 'user-agent': 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0' },
      },
    )
  const code = await codeOfAd(page)
  await page.goto(`${app.origin}/intake`)
  const feed = page.getByRole('region', { name: 'Arrivals' })
  await arrive('first-spot')
  await expect(feed.getByText('first-spot')).toBeVisible()
  await page.getByRole('button', { name: 'Pause' }).click()
  // Another visitor: the same one at once would be marked as a repeat.
  await page.context().clearCookies()
  await arrive('second-spot')
  await expect.poll(async () => (await arrivals(page, 'click', 'second-spot')).length).toBe(1)
  await expect(feed.getByText('second-spot')).toHaveCount(0)
  await page.getByRole('button', { name: 'Go on' }).click()
  await expect(feed.getByText('second-spot')).toBeVisible()
})

test('an ad that may not redirect: the tag on the landing page records the click, once', async ({ page }) => {
  const code = await codeOfAd(page)
  const address = `${app.shop}/kits?utm_source=norrfeed&utm_content=na102&utm_id=by-tag&aq_code=${code}`
  await page.goto(address)
  await expect.poll(async () => (await arrivals(page, 'click', 'by-tag')).length).toBe(1)
  const [click] = await arrivals(page, 'click', 'by-tag')
  await page.reload()
  await expect.poll(async () => (await arrivals(page, 'event', 'by-tag')).length).toBe(2)
  expect(await arrivals(page, 'click', 'by-tag')).toHaveLength(1)
  await page.getByRole('link', { name: 'Buy Table loom kit 40' }).click()
  await expect(page.locator('input[data-aq="click_id"]')).toHaveValue(click!.id)
})

test('an ad that leads straight to the shop is a click by its parameters alone, and proves the order', async ({
  page,
}) => {
  const judged = await (await page.request.get(`${app.origin}/api/judge?level=ad`)).json()
  const ad = judged.rows.find((row: { network: string }) => row.network === 'kelpie')
  const address = new URL(`${app.shop}/kits`)
  for (const [key, value] of Object.entries({
    utm_source: 'kelpie',
    utm_term: 'straight loom',
    utm_content: ad.id,
  }))
    address.searchParams.set(key, value)
  await page.goto(address.href)
  await expect.poll(async () => (await arrivals(page, 'click', 'straight loom')).length).toBe(1)
  const [click] = await arrivals(page, 'click', 'straight loom')
  expect(click).toMatchObject({ network: 'kelpie', ad: ad.name, keyword: 'straight loom', device: 'desktop' })
  await page.getByRole('link', { name: 'Buy Table loom kit 40' }).click()
  await page.getByLabel('E-mail').fill('straight@post.example')
  await page.getByRole('button', { name: 'Place the order' }).click()
  const order = (await page.locator('[data-order]').innerText()).match(/P[0-9A-Z]{7,9}/)![0]
  await expect(async () => {
    await page.goto(`${app.origin}/intake/orders/${order}`)
    await expect(page.getByText('proven', { exact: false }).first()).toBeVisible({ timeout: 3000 })
  }).toPass()
  // Tagged links that name no ad of ours are no clicks.
  await page.goto(`${app.shop}/kits?utm_source=newsletter&utm_content=straight-letter`)
  await expect.poll(async () => (await arrivals(page, 'event', 'straight-letter')).length).toBe(1)
  expect(await arrivals(page, 'click', 'straight-letter')).toEqual([])
})

test('consent refused leaves no identifier; given, the tag begins', async ({ page, context }) => {
  await page.goto(`${app.shop}/consent`)
  const sent = page.waitForRequest(r => r.url().endsWith('/e') && r.method() === 'POST')
  await page.goto(`${app.shop}/kits?utm_content=na102&aq_click=c-somebody-1`)
  const [event] = JSON.parse((await sent).postData()!)
  expect(event).toMatchObject({ name: 'page', page: `${app.shop}/kits` })
  expect(Object.keys(event)).not.toContain('visitor')
  expect(JSON.stringify(event)).not.toContain('c-somebody-1')
  expect(await kept(page)).toBeNull()
  expect((await context.cookies(app.collector)).map(c => c.name)).toEqual([])
  await page.evaluate(() =>
    (window as never as { aequant: (n: string, v: boolean) => void }).aequant('consent', true),
  )
  expect(await kept(page)).toContain('c-somebody-1')
  await page.evaluate(() =>
    (window as never as { aequant: (n: string, v: boolean) => void }).aequant('consent', false),
  )
  expect(await kept(page)).toBeNull()
})

test('a page that is left at once, or may store nothing, still tells its events', async ({ page }) => {
  await page.addInitScript(() => {
    Object.defineProperty(window, 'localStorage', {
      get() {
        throw new DOMException('refused', 'SecurityError')
      },
    })
  })
  await page.goto(`${app.shop}/kits?utm_id=no-storage`)
  await expect.poll(async () => (await arrivals(page, 'event', 'no-storage')).length).toBe(1)
  await page.evaluate(() => {
    const { aequant } = window as never as { aequant: (name: string, facts: object) => void }
    aequant('left', { value: '49.00', currency: 'EUR', transaction: 'left-at-once' })
    location.href = '/kits?elsewhere'
  })
  await expect.poll(async () => (await arrivals(page, 'event', 'left-at-once')).length).toBe(1)
})
