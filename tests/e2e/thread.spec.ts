import { demoFor } from './application'
import { expect, type Page, test } from './test'

const app = demoFor()

const orderId = /P[0-9A-Z]{7,9}/
const evidence = (page: Page) => page.getByRole('complementary', { name: 'Evidence' })
const period = () =>
  `from=${new Date(Date.now() - 40 * 86_400_000).toISOString().slice(0, 10)}&to=${new Date(Date.now() + 86_400_000).toISOString().slice(0, 10)}`

/** Buys a loom as a shopper who clicks an ad on the practice Norrfeed. */
async function buy(page: Page, ad: string, email: string): Promise<string> {
  await page.goto(app.norrfeed)
  await page.getByRole('link', { name: `See ${ad}`, exact: true }).click()
  await expect(page).toHaveURL(/shop\.tarnbrook\.localhost.*aq_click=/)
  await page.getByRole('link', { name: 'Buy Table loom kit 40' }).click()
  await page.getByLabel('E-mail').fill(email)
  const heard = page.waitForResponse(r => r.url().includes('/hit'))
  await page.getByRole('button', { name: 'Place the order' }).click()
  await heard
  return orderId.exec(await page.locator('[data-order]').innerText())![0]
}

test('one ad click, from its link to its cost, by mouse', async ({ page }) => {
  // 1. the link
  await page.goto(`${app.origin}/links?${period()}`)
  await page.getByLabel('Filter ads').fill('Hands at the loom')
  await page.getByRole('button', { name: 'Hands at the loom', exact: true }).click()
  await expect(page.getByText('Norrfeed › Autumn kits › Weaving interests › Hands at the loom')).toBeVisible()
  const parameters = page.getByTestId('field parameters')
  await expect(parameters).toContainText('utm_campaign=[[campaign_title]]')
  await expect(page.getByTestId('preview')).toContainText('utm_campaign=Autumn%20kits')
  await page.getByLabel('New parameter').fill('creative')
  await page.getByLabel('Set the new one at').selectOption('ad_set')
  await page.getByRole('button', { name: 'Add parameter' }).click()
  await page.getByRole('button', { name: 'Add a token to creative' }).click()
  await page.getByPlaceholder('Which value?').fill('ad name')
  await page
    .getByRole('option', { name: /ad name/ })
    .first()
    .click()
  await expect(parameters).toContainText('creative=[[ad_title]]')
  await page.getByRole('button', { name: 'Copy the whole address' }).click()
  await page.getByRole('button', { name: 'Put it on the practice Norrfeed' }).click()
  await expect(page.getByText('The practice Norrfeed has it.')).toBeVisible()

  // 2. the click, the purchase, the claim
  const order = await buy(page, 'Hands at the loom', 'ines@post.example')

  // 3. intake: the click and the order, and how we know
  await page.goto(`${app.origin}/intake`)
  const arrivals = page.getByRole('region', { name: 'Arrivals' })
  await expect(
    arrivals
      .getByRole('button')
      .filter({ hasText: 'norrfeed › Autumn kits › Hands at the loom' })
      .filter({ hasText: 'proven' })
      .first(),
  ).toBeVisible()
  await page.getByRole('button', { name: 'orders', exact: true }).click()
  await arrivals.getByRole('button').first().click()
  const record = page.getByRole('region', { name: 'The whole record' })
  await expect(record).toContainText(order)
  await expect(record).toContainText('the order carries our click ID')
  await expect(record).toContainText('creative')
  await page.getByRole('button', { name: 'clicks', exact: true }).click()
  await arrivals.getByRole('button').first().click()
  await expect(record).toContainText('Hands at the loom')
  await expect(record).toContainText('feed')

  // 4. reconcile: the order stands on both sides
  await page.goto(`${app.origin}/reconcile?${period()}&network=norrfeed`)
  await page
    .getByRole('button', { name: /stand|^\d+: show the evidence/ })
    .first()
    .click()
  await expect(evidence(page)).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(evidence(page)).toBeHidden()
  const both = page.getByRole('row', { name: /Sum/ }).getByRole('button').nth(7)
  await both.click()
  await expect(evidence(page)).toContainText('Orders that stand on both sides')
  await expect(evidence(page)).toContainText(order)
  await expect(evidence(page)).toContainText(`order ${order}, a unit of the day’s sum`)

  // 5. weigh: what today cost is not told yet, so that today's order waits for it; then it counts, down to the ad
  await page.goto(`${app.origin}/weigh?set=evidence&${period()}`)
  await expect(page.getByText(/^Spend is told up to .*: later days are left out/)).toBeVisible()
  const rows: { level: string; name: string; network: string; path: string[] }[] = await (
    await page.request.get(`${app.origin}/api/weigh`)
  ).json()
  const [, campaign, adSet, ad] = rows.find(
    one => one.level === 'ad' && one.network === 'norrfeed' && one.name === 'Hands at the loom',
  )!.path
  const told = await page.request.post(`${app.origin}/api/import/delivery`, {
    headers: { 'content-type': 'text/csv', 'x-aequant': '1' },
    data: `date,network,campaign_id,ad_set_id,ad_id,currency,spend,impressions,clicks\n${period().slice(-10)},norrfeed,${campaign},${adSet},${ad},EUR,4.00,200,3\n`,
  })
  expect(told.ok()).toBe(true)
  await page.goto(`${app.origin}/weigh?set=evidence&${period()}`)
  await page.getByLabel('Filter by name').fill('Hands at the loom')
  const row = page.getByRole('row', { name: /Hands at the loom/ })
  await row.getByRole('cell').nth(4).getByRole('button').click()
  await expect(evidence(page)).toContainText('Proven orders')
  await expect(evidence(page)).toContainText(order)
})

test('an order of a shopper who opted out is ours alone', async ({ page }) => {
  await page.goto(app.norrfeed)
  await page.getByRole('button', { name: 'Opt out' }).click()
  const order = await buy(page, 'Oak & wool', 'rui@post.example')
  await page.goto(`${app.origin}/reconcile?${period()}&network=norrfeed`)
  await page
    .getByRole('row', { name: /Not seen by the network/ })
    .getByRole('button')
    .first()
    .click()
  await expect(evidence(page)).toContainText(order)
  await expect(evidence(page)).toContainText('Norrfeed › Autumn kits › Oak & wool')
})

test('the same way by keyboard alone', async ({ page }) => {
  await page.goto(`${app.origin}/reconcile?${period()}`)
  await expect(page.getByRole('heading', { level: 1 })).toContainText('orders')
  await expect(async () => {
    await page.keyboard.press('3')
    await expect(page).toHaveURL(/\/links/, { timeout: 2000 })
  }).toPass()
  await expect(page.getByLabel('Filter ads')).toBeVisible()
  await page.keyboard.press('/')
  await page.keyboard.type('Moss to Fjord')
  await expect(page.getByText('Norrfeed › Yarn refill › Kit owners › Moss to Fjord')).toBeVisible()
  await page.getByLabel('New parameter').focus()
  await page.keyboard.type('season')
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('season, text')).toBeFocused()
  await page.keyboard.type('autumn')
  await expect(page.getByTestId('field parameters')).toContainText('season=autumn')
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: /^season at account/ }).focus()
  await page.keyboard.press('u')
  await expect(page.getByTestId('field parameters')).not.toContainText('season=')

  await page.keyboard.press('4')
  await expect(page).toHaveURL(/\/intake/)
  const record = page.getByRole('region', { name: 'The whole record' })
  const first = await record.getByRole('heading').innerText()
  await page.keyboard.press('j')
  await expect(record.getByRole('heading')).not.toHaveText(first)

  await page.keyboard.press('6')
  await expect(page).toHaveURL(/\/weigh/)
  await expect(page.getByRole('row', { name: /All ads/ })).toBeVisible()
  const rows = page.getByRole('row')
  const before = await rows.count()
  await page.keyboard.press('l')
  await expect.poll(() => rows.count()).toBeGreaterThan(before)
  await page.keyboard.press('j')
  // Why it is judged as it is, and the evidence of what that stands on.
  await page.keyboard.press('Enter')
  const why = page.getByRole('complementary', { name: 'Why' })
  await expect(why).toContainText('estimated orders')
  await why
    .getByRole('button', { name: /show the evidence/ })
    .nth(1)
    .focus()
  await page.keyboard.press('Enter')
  await expect(evidence(page)).toContainText('Estimated orders')
  await page.keyboard.press('Escape')
  await expect(why).toBeVisible()
  await page.keyboard.press('Escape')

  await page.keyboard.press('Control+k')
  await page.getByPlaceholder(/^Page, action, period/).fill('kelpie only')
  await page.keyboard.press('Enter')
  await expect(page).toHaveURL(/network=kelpie/)
  await page.keyboard.press('Shift+?')
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible()
})

test('sums and sorting in Weigh, and a change of rules', async ({ page }) => {
  await page.goto(`${app.origin}/weigh?set=evidence&${period()}`)
  const cell = async (name: RegExp, column: number) =>
    Number(
      (await page.getByRole('row', { name }).first().getByRole('cell').nth(column).innerText()).replaceAll(
        ',',
        '',
      ),
    )
  const total = await cell(/All ads/, 1)
  const campaigns = page
    .getByRole('row')
    .filter({ has: page.getByRole('button', { name: /Show what is below/ }) })
  await expect(campaigns.first()).toBeVisible()
  const spends = await campaigns.evaluateAll(rows =>
    rows.map(r => Number(r.querySelectorAll('td')[1]!.textContent!.replaceAll(',', ''))),
  )
  expect(Math.round(100 * spends.reduce((a, b) => a + b, 0))).toBe(Math.round(100 * total))
  expect(spends).toEqual([...spends].sort((a, b) => b - a))
  await page.getByRole('columnheader', { name: 'spend' }).getByRole('button').click()
  await expect
    .poll(() =>
      campaigns.evaluateAll(rows =>
        Number(rows[0]!.querySelectorAll('td')[1]!.textContent!.replaceAll(',', '')),
      ),
    )
    .toBe(Math.min(...spends))

  await page.getByRole('button', { name: /last click, 30 days/ }).click()
  await page.getByLabel('Target cost per order').fill('12.34')
  await page.getByRole('button', { name: 'Count by these' }).click()
  await expect(page.getByRole('heading', { level: 1 })).toContainText('the line is 12.34')
})

test('a file with faults: what went in, what did not and why; twice changes nothing', async ({ page }) => {
  await page.goto(`${app.origin}/intake/import`)
  const csv =
    'order_id,ordered_at,status,currency,total,gift\nZ1,2026-11-01T10:00:00Z,paid,EUR,50.00,yes\nZ2,yesterday,paid,EUR,50.00,\nZ3,2026-11-01T10:00:00Z,paid,XAU2,50.00,\n'
  const drop = () =>
    page
      .getByLabel('CSV files')
      .setInputFiles({ name: 'shop export.csv', mimeType: 'text/csv', buffer: Buffer.from(csv) })
  await drop()
  const status = page.getByRole('status').first()
  await expect(status).toContainText('1 rows in, 0 were known already, 2 rejected')
  await expect(status).toContainText('gift kept as it is')
  await expect(status.getByRole('row', { name: /3 ordered_at yesterday is no instant/ })).toBeVisible()
  await drop()
  await expect(status).toContainText('0 rows in, 1 were known already')
  await page
    .getByLabel('CSV files')
    .setInputFiles({ name: 'holiday.csv', mimeType: 'text/csv', buffer: Buffer.from('a;b;c\n1;2;3') })
  await page.getByRole('button', { name: 'orders', exact: true }).click()
  await expect(status).toContainText('lacks the required column')
})
