import { readFileSync } from 'node:fs'
import Papa from 'papaparse'
import { demoFor } from './application'
import { daysAgo } from './days'
import { expect, type Page, test } from './test'

const app = demoFor()
const heading = (page: Page) => page.getByRole('heading', { level: 1 })
const judged = async (page: Page) => (await page.request.get(`${app.origin}/api/judge`)).json()
const exported = async (page: Page, what: string) =>
  (await page.request.get(`${app.origin}/api/export/${what}`)).text()

test('what is said of the business shows what it would change, changes it, and is taken back', async ({
  page,
}) => {
  await page.goto(`${app.origin}/weigh`)
  const line = async () =>
    Number(/the line is ([\d,.]+)\./.exec(await heading(page).innerText())?.[1]?.replaceAll(',', ''))
  await expect.poll(line).toBeGreaterThan(0)
  const before = await line()
  await page.getByRole('link', { name: 'Settings' }).click()
  await page.getByRole('button', { name: 'Change: What an order is worth' }).click()
  await page.getByLabel('Margin of an order').fill('26')
  const would = page.getByText('With this, in the last 28 days:').locator('..')
  // Half the margin is half the line; what an order cost stays as it is.
  const lines = async () =>
    (/Break-even([\d.]+) EUR → ([\d.]+)/.exec((await would.textContent().catch(() => '')) ?? '') ?? [])
      .slice(1)
      .map(Number)
  await expect.poll(async () => (await lines())[0]).toBe(before)
  expect((await lines())[1]).toBeCloseTo(before / 2, 1)
  await expect(would).toContainText(/Cost per order[\d.]+ EUR, unchanged/)
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText('The settings are changed.')).toBeVisible()
  await page.goto(`${app.origin}/weigh`)
  await expect.poll(line).toBeCloseTo(before / 2, 1)
  await page.goBack()
  await page.getByRole('button', { name: 'Change: What an order is worth' }).click()
  await page.getByLabel('Margin of an order').fill('52')
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText('The settings are changed.')).toBeVisible()
  await page.keyboard.press('u')
  await page.keyboard.press('6')
  await expect.poll(line).toBeCloseTo(before / 2, 1)
})

test('groups of products have margins of their own, which the line follows at once', async ({ page }) => {
  await page.goto(`${app.origin}/settings`)
  const part = page.getByRole('region', { name: 'Margins by group of products' }).first()
  await expect(part).toContainText('Loom kits (')
  await part.getByRole('button', { name: 'Change: Margins by group of products' }).click()
  const kits = page.getByRole('group', { name: 'Loom kits' })
  await kits.getByLabel('Margin').fill('5')
  await kits.getByLabel('Each costs besides').fill('4.50')
  const would = page.getByText('With this, in the last 28 days:').locator('..')
  const lines = /Break-even([\d.]+) EUR → ([\d.]+)/
  await expect(would).toContainText(lines)
  const [now, then] = lines
    .exec((await would.textContent())!)!
    .slice(1)
    .map(Number)
  expect(then).toBeLessThan(now!)
  await page.keyboard.press('Control+Enter')
  await expect(part).toContainText('Loom kits5 % less 4.50 EUR')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(part).not.toContainText('less 4.50')
})

test('a network is begun, described later, and taken out as long as nothing is held of it', async ({
  page,
}) => {
  await page.goto(`${app.origin}/settings/networks`)
  await page.getByRole('button', { name: 'New network' }).click()
  await page.getByLabel('Its name').fill('Owlpost')
  await page.getByLabel('It writes dynamic values in addresses').selectOption('tilde')
  await page.getByRole('button', { name: 'Begin it' }).click()
  // Its own words come next.
  await expect(heading(page)).toHaveText('How Owlpost writes links')
  await expect(page.getByTestId('example field').first()).toContainText('~ad_name~')
  await page.goto(`${app.origin}/settings/networks`)
  const row = page.getByRole('row', { name: /^Owlpost/ })
  await row.getByRole('button', { name: 'Take out' }).click()
  await page.getByRole('alertdialog').getByRole('button', { name: 'Take out' }).click()
  await expect(row).toBeHidden()
  await page
    .getByRole('row', { name: /^Kelpie/ })
    .getByRole('button', { name: 'Take out' })
    .click()
  await page.getByRole('alertdialog').getByRole('button', { name: 'Take out' }).click()
  await expect(page.getByText('Kelpie stays: ads, spend, claims or clicks of it are held')).toBeVisible()
})

test('the tracking domain is asked whether it answers as it should', async ({ page }) => {
  await page.goto(`${app.origin}/settings/tracking`)
  await page.getByRole('button', { name: 'Ask it now' }).click()
  await expect(heading(page)).toHaveText(/answers as it should\.$/)
  await expect(page.getByText('it writes into the journal that is read here')).toBeVisible()
  await expect(page.getByText('an order without a signature is refused')).toBeVisible()
})

test('all that is held leaves as files, which sum up to what is shown', async ({ page }) => {
  const period = `from=${daysAgo(56)}&to=${daysAgo(43)}`
  const shown = await (await page.request.get(`${app.origin}/api/judge?${period}`)).json()
  const rows = (text: string) => Papa.parse<Record<string, string>>(text.trim(), { header: true }).data
  const delivery = rows(await exported(page, `delivery?${period}`))
  const cents = delivery.reduce((sum, row) => sum + Math.round(Number(row.spend) * 100), 0)
  expect(cents / 100).toBe(Number(shown.totals.spend))
  const conversions = rows(await exported(page, `conversions?${period}`))
  expect(new Set(conversions.map(row => row.order_id)).size).toBe(shown.gap.orders)
  await page.goto(`${app.origin}/settings/data?${period}`)
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'All of all days, as one archive' }).click(),
  ])
  const archive = readFileSync(await download.path())
  expect(archive.subarray(0, 2).toString()).toBe('PK')
  for (const name of ['orders.csv', 'claim-rows.csv', 'sales.csv', 'workspace.json'])
    expect(archive.includes(name)).toBe(true)
})

test('what was taken in is removed by kind and period, as was said before, and comes back', async ({
  page,
}) => {
  const before = await judged(page)
  await page.goto(`${app.origin}/settings/data`)
  await page.getByText('ad clicks', { exact: true }).click()
  await expect(page.getByText(/[\d,]+ records would go\./)).toBeVisible()
  await page.getByRole('button', { name: 'Remove them' }).click()
  await page.getByRole('alertdialog').getByRole('button', { name: 'Remove them' }).click()
  await expect(page.getByText('Nothing of that is held.')).toBeVisible()
  const without = await judged(page)
  expect(without.totals.proven).toBeLessThan(before.totals.proven)
  expect(without.totals.spend).toBe(before.totals.spend)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect.poll(async () => (await judged(page)).totals.proven).toBe(before.totals.proven)
})

test('what is settled is carried as JSON, shown before it changes anything, and taken back', async ({
  page,
}) => {
  const file = await (await page.request.get(`${app.origin}/api/workspace`)).json()
  const other = { ...file, name: 'Another shop', naming: [], settings: { ...file.settings, margin: 0.4 } }
  other.results = [...file.results, { ...file.results[0], id: 'visit', name: 'A visit' }]
  await page.goto(`${app.origin}/settings/data`)
  const give = async (content: unknown) =>
    page.getByLabel('What a workspace has settled').setInputFiles({
      name: 'workspace.json',
      mimeType: 'application/json',
      buffer: Buffer.from(JSON.stringify(content)),
    })
  await give({ format: 'something' })
  await expect(page.getByText('This JSON is no workspace of Aequant')).toBeVisible()
  await give(other)
  await expect(page.getByText('The workspace’s name: Tarnbrook Looms → Another shop')).toBeVisible()
  await expect(page.getByRole('row', { name: /^results 1 0/ })).toContainText('A visit')
  await expect(page.getByRole('row', { name: /^margin/ })).toContainText('0.4')
  await page.getByRole('button', { name: 'Take it in' }).click()
  await expect(page.getByText('workspace.json is taken in.')).toBeVisible()
  await expect(page.getByText('Another shop').first()).toBeVisible()
  await page.keyboard.press('u')
  await expect(page.getByText('Another shop')).toHaveCount(0)
  await expect.poll(async () => (await page.request.get(`${app.origin}/api/workspace`)).json()).toEqual(file)
})

test('the guide opens on what a screen is about, with its picture, and words are found', async ({ page }) => {
  await page.goto(`${app.origin}/reconcile`)
  await page.getByRole('link', { name: 'Guide' }).click()
  await expect(heading(page)).toHaveText('Reconcile')
  const picture = page.getByRole('img', { name: 'The balance and its causes' })
  await expect.poll(() => picture.evaluate((img: HTMLImageElement) => img.naturalWidth)).toBe(1280)
  const pages = page.getByRole('navigation', { name: 'Guide' }).getByRole('link')
  for (let i = 0; i < (await pages.count()); i++) {
    await pages.nth(i).click()
    await expect(pages.nth(i)).toHaveAttribute('aria-current', 'page')
    const broken = await page.locator('main img').evaluateAll(all =>
      Promise.all(
        all.map(img =>
          (img as HTMLImageElement).decode().then(
            () => '',
            () => (img as HTMLImageElement).src,
          ),
        ),
      ),
    )
    expect(broken.filter(Boolean)).toEqual([])
  }
  await page.keyboard.press('Control+k')
  await page.getByPlaceholder(/Page, action/).fill('what is capture')
  await page.keyboard.press('Enter')
  await expect(page).toHaveURL(/guide\/words#capture/)
  await expect(page.getByText('the share of the orders tracked to a network that it reported')).toBeVisible()
})
