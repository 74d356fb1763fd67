import { demoFor } from './application'
import { expect, type Page, test } from './test'

const app = demoFor()

const give = (page: Page, name: string, content: string) => ({
  into: (label: string) =>
    page
      .getByLabel(label, { exact: true })
      .setInputFiles({ name, mimeType: 'text/csv', buffer: Buffer.from(content) }),
})

test('ad, landing page, offer at the partner, sale, postback: one click ID all the way', async ({ page }) => {
  await page.goto(app.norrfeed)
  await page.getByRole('link', { name: 'See Learn at home' }).click()
  await expect(page).toHaveURL(/\/course\?.*aq_click=/)
  const click = new URL(page.url()).searchParams.get('aq_click')!
  await page.getByRole('link', { name: 'See the course' }).click()
  await expect(page).toHaveURL(new RegExp(`corvane.*p1=${click}`))
  await page.getByRole('button', { name: /Enrol/ }).click()
  const deal = await page.locator('[data-deal]').getAttribute('data-deal')
  const way = async () => {
    const steps = await (await page.request.get(`${app.origin}/api/arrivals/way?click=${click}`)).json()
    return steps.map((s: { kind: string }) => s.kind).filter((k: string) => k !== 'event')
  }
  await expect.poll(way).toEqual(expect.arrayContaining(['click', 'hop', 'postback', 'order']))
  await page.goto(`${app.origin}/intake/orders/corvane:${deal}`)
  await expect(page.getByRole('heading', { level: 1 })).toContainText('49.00 EUR, paid')

  // The partner takes it back: the same sale, reversed.
  await page.goto(app.norrfeed.replace('norrfeed', 'corvane'))
  await page.getByRole('button', { name: 'Reverse' }).first().click()
  await expect(async () => {
    await page.goto(`${app.origin}/intake/orders/corvane:${deal}`)
    await expect(page.getByRole('heading', { level: 1 })).toContainText('cancelled', { timeout: 1000 })
  }).toPass()
})

test('what is set aside is mended on its page, and a partner gets an address that works', async ({
  page,
}) => {
  await page.goto(`${app.origin}/intake/partners`)
  await page.getByRole('button', { name: 'Add a partner' }).click()
  await page.getByLabel('Name', { exact: true }).fill('Linden Offers')
  await page.getByLabel('Offer link takes our click ID as').fill('ref')
  await page.getByLabel('Parameter of our click ID, as it came back').fill('ref')
  await page.getByLabel('Parameter of the deal’s own ID').fill('sale')
  await page.getByLabel('Macro of the deal’s own ID').fill('<sale>')
  await page.getByLabel('Parameter of amount').fill('sum')
  await page.getByLabel('Parameter of status').fill('is')
  await page.getByRole('button', { name: 'Add the partner' }).click()
  const address = await page.getByText(/\/p\/.*sale=<sale>/).innerText()
  const tell = (query: string) => {
    const [base, given] = address.split('?')
    const key = new URLSearchParams(given).get('key')
    return page.request.get(`${base}?${query}&key=${key}`)
  }
  await expect.poll(async () => (await tell('sale=L1&sum=20.00&is=klar')).status()).toBe(200)
  await tell('sale=L2&sum=30.00&is=klar')
  await page.goto(`${app.origin}/intake/set-aside`)
  await expect(async () => {
    await page.reload()
    await expect(page.getByText('2 postbacks')).toBeVisible({ timeout: 1000 })
  }).toPass()
  await page.getByRole('button', { name: 'It means approved' }).click()
  await expect(page.getByText('2 taken in.')).toBeVisible()
  await expect(page.getByText('2 postbacks')).toBeHidden()
  await page.goto(`${app.origin}/intake/partners`)
  await expect(page.getByText('2 approved')).toBeVisible()
})

test('a route is added on its page, and leads from the landing page to an offer', async ({ page }) => {
  await page.goto(`${app.origin}/intake/routes`)
  await page.getByRole('button', { name: 'Add a code' }).click()
  await page.getByRole('textbox', { name: 'Code', exact: true }).fill('two-hops')
  await page.getByLabel('Landing page 1', { exact: true }).fill(`${app.shop}/kits?page=course`)
  await page.getByLabel('Offer 1', { exact: true }).fill(`${app.shop}/kits?offer=course`)
  const keep = page.getByRole('button', { name: 'Keep the route' })
  await keep.click()
  // An offer whose partner takes no click ID would bring sales without a source.
  await expect(page.getByRole('alert').filter({ hasText: 'Fill this in' })).toBeVisible()
  await page.getByLabel('Click ID parameter of offer 1').fill('p1')
  await keep.click()
  await expect(page.getByRole('region', { name: 'Ways of two-hops' })).toContainText('offer=course')
  // What a change did is undone by one key.
  await page.getByRole('button', { name: 'two-hops', exact: true }).click()
  await page.getByLabel('Offer 1', { exact: true }).fill('')
  await page.keyboard.press('Control+Enter')
  await expect(page.getByRole('region', { name: 'Ways of two-hops' })).toHaveCount(0)
  await page.keyboard.press('u')
  await expect(page.getByRole('region', { name: 'Ways of two-hops' })).toContainText('offer=course')
  await expect(async () => {
    await page.goto(`${app.collector}/c/two-hops?utm_source=norrfeed`)
    await expect(page).toHaveURL(/page=course.*aq_click=/, { timeout: 1000 })
  }).toPass()
  const click = new URL(page.url()).searchParams.get('aq_click')!
  await page.goto(`${app.collector}/c/two-hops/next?aq_click=${click}`)
  await expect(page).toHaveURL(new RegExp(`offer=course&p1=${click}`))
})

test('a report is pulled, its columns corrected, and its days replaced with the difference seen before', async ({
  page,
}) => {
  await page.goto(`${app.origin}/intake/reports?network=kelpie`)
  await page.getByRole('button', { name: /^Ask Kelpie/ }).click()
  const spend = page.getByLabel('Cost (EUR) is')
  await expect(spend).toHaveValue('spend')
  await spend.selectOption('not used')
  await page.getByLabel('Conversions is').selectOption('not used')
  await expect(page.getByText('No column holds spend or conversions')).toBeVisible()
  await spend.selectOption('spend')
  await page.getByLabel('Conversions is').selectOption('conversions after a click')
  await page.getByRole('button', { name: 'Show what it changes' }).click()
  await expect(page.getByRole('heading', { name: /^3 days change, 0 are new/ })).toBeVisible()
  await page.getByRole('button', { name: /^Replace \d+ days of Kelpie/ }).click()
  const done = page.getByRole('status').filter({ hasText: 'days of Kelpie replaced' })
  await expect(done).toBeVisible()
  // Undone, it changes again what it changed.
  await page.keyboard.press('u')
  await expect(done).toBeHidden()
  await page.getByRole('button', { name: 'Show what it changes' }).click()
  await expect(page.getByRole('heading', { name: /^3 days change, 0 are new/ })).toBeVisible()
  await page.getByRole('button', { name: /^Replace \d+ days of Kelpie/ }).click()
  await expect(done).toBeVisible()

  // Taken again it is known how to read it, and nothing is left to change.
  await page.reload()
  await page.getByRole('button', { name: /^Ask Kelpie/ }).click()
  await expect(page.getByRole('heading', { level: 1 })).toContainText('read as Kelpie’s last report was')
  await page.getByRole('button', { name: 'Show what it changes' }).click()
  await expect(page.getByRole('heading', { name: /^0 days change, 0 are new/ })).toBeVisible()

  await give(page, 'letter.csv', 'Dear all\n\nsee you\n').into('Report')
  await expect(page.getByRole('main').getByRole('alert')).toContainText('holds no table')
})

test('a rejected row is corrected where it is set aside, and a source nobody knows is given its network', async ({
  page,
}) => {
  await page.goto(`${app.origin}/intake/import`)
  const rows = ['W1,payed,nf-autumn', 'W2,payed,nf-autumn', 'W3,paid,nf-autumn'].map(row => {
    const [id, status, source] = row.split(',')
    return `${id},2026-11-20T10:00:00Z,${status},EUR,12.00,${source}`
  })
  await give(
    page,
    'orders.csv',
    `order_id,ordered_at,status,currency,total,utm_source\n${rows.join('\n')}\n`,
  ).into('CSV files')
  await expect(page.getByRole('status')).toContainText('1 rows in, 0 were known already, 2 rejected')
  await page.goto(`${app.origin}/intake/set-aside`)
  const payed = page.locator('section').filter({ hasText: 'payed' })
  await expect(payed.getByRole('button', { name: 'Correct all 2 and take in' })).toBeVisible()
  await payed.getByLabel('Which of them').selectOption({ index: 1 })
  for (const left of [1, 0]) {
    await payed.getByLabel('Write as status').fill('paid')
    await payed.getByRole('button', { name: 'Correct it and take in' }).click()
    await expect(page.getByText('1 taken in.')).toBeVisible()
    await expect(payed).toHaveCount(left)
  }
  const sources = page.getByRole('region', { name: 'Sources nobody knows' })
  await expect(sources).toContainText('3 orders')
  await sources.getByRole('button', { name: 'Norrfeed' }).click()
  await expect(sources).toHaveCount(0)
  await page.goto(`${app.origin}/intake/orders/W1`)
  await expect(page.getByText('tagged', { exact: false }).first()).toBeVisible()
})

test('a large file shows how far it is, lets others work, and can be stopped and taken again', async ({
  page,
}) => {
  const rows = Array.from({ length: 100_000 }, (_, i) => {
    const at = new Date(Date.UTC(2026, 9, 1) + i * 20_000).toISOString()
    return `big-${i},${at},norrfeed,nc100,ns101,na102,big-visitor-${i}`
  })
  const file = `click_id,clicked_at,network,campaign_id,ad_set_id,ad_id,visitor_id\n${rows.join('\n')}\n`
  await page.goto(`${app.origin}/intake/import`)
  await give(page, 'clicks.csv', file).into('CSV files')
  await expect(page.getByRole('progressbar', { name: 'Rows taken in' })).toBeVisible()
  const other = await page.context().newPage()
  await other.goto(`${app.origin}/intake/routes`)
  await expect(other.getByRole('heading', { level: 1 })).toContainText('lead clicks on')
  expect((await page.request.get(`${app.collector}/c/course?x=1`, { maxRedirects: 0 })).status()).toBe(302)
  await page.getByRole('button', { name: 'Cancel' }).click()
  const said = page.getByRole('status').first()
  await expect(said).toContainText('cancelled.')
  await give(page, 'clicks.csv', file).into('CSV files')
  await expect(said).not.toContainText('cancelled', { timeout: 90_000 })
  await expect(said).toContainText('0 rejected')
  const [, taken, known] = /(\d+) rows in (\d+) were known/.exec(
    (await said.innerText()).replaceAll(',', ''),
  )!
  expect(Number(taken)).toBeLessThan(100_000)
  expect(Number(taken) + Number(known)).toBe(100_000)
})

test('the feed is narrowed by kind, campaign, result and problem, and shows a record as it is kept', async ({
  page,
}) => {
  await page.goto(`${app.origin}/intake`)
  await page.getByRole('button', { name: 'orders', exact: true }).click()
  await expect(page.getByRole('heading', { level: 1 })).toContainText('of this choice: 150 orders.')
  await page.getByLabel('Problem').selectOption('nothing says where from')
  await expect(page.getByRole('heading', { level: 1 })).toContainText(
    'nothing that says where they came from',
  )
  await page.getByLabel('Problem').selectOption('any problem')
  await page.getByRole('button', { name: 'clicks', exact: true }).click()
  await page.getByLabel('Problem').selectOption('well or not')
  await page.getByLabel('Campaign', { exact: true }).selectOption({ label: 'Norrfeed: Yarn refill' })
  await expect(page).toHaveURL(/campaign=/)
  const feed = page.getByRole('region', { name: 'Arrivals' })
  await expect(feed.getByRole('button').first()).toContainText('Yarn refill')
  await page.getByText('As it is kept').click()
  await expect(page.getByRole('region', { name: 'The whole record' })).toContainText('"campaign_id"')
  await expect(page.getByRole('img', { name: /by the minute/ })).toBeVisible()
})
