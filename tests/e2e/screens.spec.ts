import { demoFor } from './application'
import { daysAgo } from './days'
import { expect, type Page, test } from './test'

const app = demoFor()

const evidence = (page: Page) => page.getByRole('complementary', { name: 'Evidence' })
const heading = (page: Page) => page.getByRole('heading', { level: 1 })
test('what an address asks for and is not there is said, within the shell', async ({ page }) => {
  const answer = await page.goto(`${app.origin}/nowhere`)
  expect(answer?.status()).toBe(404)
  await expect(heading(page)).toHaveText('There is no page /nowhere.')
  await expect(page.getByRole('link', { name: 'Weigh' })).toBeVisible()
  await page.goto(`${app.origin}/intake/orders/T-none`)
  await expect(heading(page)).toHaveText('There is no order T-none.')
  await page.goto(`${app.origin}/results/journey?journey=none`)
  await expect(page.getByText('There is no journey none.')).toBeVisible()
  await page.goto(`${app.origin}/weigh?network=nobody&from=soon`)
  await expect(page.getByText('There is no network “nobody”: nothing is shown of it.')).toBeVisible()
  await expect(page.getByText('“soon” in the address is no day')).toBeVisible()
  await expect(heading(page)).toContainText('0.00 EUR brought an estimated 0.0 orders')
  await expect(heading(page)).toContainText('No ads of nobody are known')
})

test('figures and days are written by the reader’s habit, or by one that is chosen for all', async ({
  browser,
}) => {
  const context = await browser.newContext({ locale: 'de-DE' })
  const page = await context.newPage()
  const complaints: string[] = []
  page.on('console', message => message.type() === 'error' && complaints.push(message.text()))
  await page.goto(`${app.origin}/weigh`)
  await expect(heading(page)).toContainText(/\d\.\d{3},\d{2} EUR brought/)
  const days = page.getByRole('banner').getByRole('button', { name: /^Days/ })
  await expect(days).toHaveText(/^\d\d\.\d\d\.\d{4} – /)
  await page.getByRole('link', { name: 'Settings' }).click()
  await page.getByRole('button', { name: 'Change: How figures are written' }).click()
  await page.getByLabel('Numbers and dates are written as').selectOption('en-GB')
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText('The settings are changed.')).toBeVisible()
  await page.keyboard.press('6')
  await expect(heading(page)).toContainText(/\d,\d{3}\.\d{2} EUR brought/)
  await expect(days).toHaveText(/^\d{1,2} [A-Z][a-z]{2} \d{4} – /)
  await page.keyboard.press('u')
  await expect(heading(page)).toContainText(/\d\.\d{3},\d{2} EUR brought/)
  // A day is typed as it is written.
  const written = (days: number) => daysAgo(days).split('-').reverse().join('.')
  await days.click()
  await page.getByLabel('First day').fill(written(56))
  await page.getByLabel('First day').press('Enter')
  await page.getByLabel('Last day').fill(written(43))
  await page.getByLabel('Last day').press('Enter')
  await expect(page).toHaveURL(new RegExp(`from=${daysAgo(56)}&to=${daysAgo(43)}`))
  expect(complaints).toEqual([])
  await context.close()
})

test('a period stands beside as many days before', async ({ page }) => {
  await page.goto(`${app.origin}/weigh?from=${daysAgo(46)}&to=${daysAgo(40)}`)
  const before = await (
    await page.request.get(`${app.origin}/api/judge?from=${daysAgo(53)}&to=${daysAgo(47)}`)
  ).json()
  await page.getByRole('banner').getByRole('button', { name: /^Days/ }).click()
  await page.getByText('beside as many days before').click()
  const spend = before.totals.spend.toLocaleString('en-GB', { minimumFractionDigits: 2 })
  await expect(page.getByText(`In as many days before: ${spend} EUR brought`)).toBeVisible()
  await expect(page.getByRole('columnheader', { name: 'cost, change' })).toBeVisible()
  // It goes along to Reconcile, and away again.
  await page.getByRole('link', { name: 'Reconcile' }).click()
  await expect(page.getByText(`In as many days before: ${before.gap.orders} orders`)).toBeVisible()
})

test('another result is judged by its own records, and whatever opens is of it', async ({ page }) => {
  await page.goto(`${app.origin}/weigh`)
  const orders = await heading(page).textContent()
  await page.getByLabel('Result', { exact: true }).selectOption({ label: 'Pattern booklet' })
  await expect(heading(page)).toContainText('results')
  expect(await heading(page).textContent()).not.toBe(orders)
  await heading(page)
    .getByRole('button', { name: /results/ })
    .click()
  await expect(evidence(page).getByRole('heading', { level: 2 })).toContainText('Estimated results')
  // Each is worth what the booklet is.
  await expect(evidence(page)).toContainText('3.00')
  await expect(evidence(page)).toContainText('carries our click ID')
  // It goes along to the next station, and away again.
  await page.getByRole('link', { name: 'Reconcile' }).click()
  await expect(page.getByLabel('Result', { exact: true })).toHaveValue('booklet')
  await expect(page.getByText('We counted')).toBeVisible()
  await page.getByLabel('Result', { exact: true }).selectOption({ label: 'Order' })
  await expect(page.getByText('The shop booked')).toBeVisible()
  const answer = await page.request.get(`${app.origin}/api/judge?result=booklet`)
  const { totals, gap } = await answer.json()
  expect(gap.orders_value).toBe(gap.orders * 3)
  expect(totals.proven).toBeGreaterThan(100)
  const unknown = await page.request.get(`${app.origin}/api/judge?result=nothing`)
  expect([unknown.status(), (await unknown.json()).error]).toEqual([400, expect.stringContaining('booklet')])
})

test('an order is settled by hand, and what it was comes back', async ({ page }) => {
  const booked = async () => (await (await page.request.get(`${app.origin}/api/judge`)).json()).gap.orders
  const before = await booked()
  const { orders } = await (await page.request.get(`${app.origin}/api/figure?figure=proven`)).json()
  await page.goto(`${app.origin}/intake/orders/${orders[3].id}`)
  const byHand = page.getByRole('region', { name: 'Settled by hand' })
  await byHand.getByRole('button', { name: 'Keep' }).click()
  await expect(byHand.getByRole('alert')).toContainText('say why')
  await byHand.getByLabel('Why').fill('bought with our own card')
  await byHand.getByLabel('Why').press('Enter')
  await expect(byHand).toContainText('It was a test.')
  expect(await booked()).toBe(before - 1)
  await byHand.getByRole('button', { name: 'Undo' }).click()
  await expect(byHand).not.toContainText('It was a test.')
  expect(await booked()).toBe(before)
  // Its customer can be said to be one with another.
  await byHand.getByLabel('What it is').selectOption('its customer is one with another')
  await byHand.getByLabel('The other customer').fill('ana@post.example')
  await byHand.getByLabel('Why').fill('the same address')
  await byHand.getByLabel('Why').press('Enter')
  await expect(byHand).toContainText('and ana@post.example are one customer.')
  await byHand.getByRole('button', { name: 'Undo' }).click()
  await expect(byHand).not.toContainText('are one customer')
})

/** Columns of Weigh, as its address writes them. */
const COLUMNS =
  'name.spend.impressions.clicks.claimed.balance.proven.tagged.estimated.cost_tracked.cost.roas.verdict'

test('each figure opens its own title, sum and records, to the last', async ({ page }) => {
  await page.goto(`${app.origin}/weigh?set=evidence&columns-weigh-evidence=${COLUMNS}`)
  const cell = (row: RegExp, number: number) =>
    page.getByRole('row', { name: row }).first().getByRole('cell').nth(number).getByRole('button').first()
  await expect(page.getByRole('row', { name: /All ads/ })).toBeVisible()
  const columns = await page.getByRole('columnheader').allInnerTexts()
  const at = (name: RegExp) => columns.findIndex(text => name.test(text.replace(/\s+/g, ' '))) - 1
  const panel = evidence(page)
  const opens = async (row: RegExp, column: RegExp, title: RegExp) => {
    const figure = cell(row, at(column))
    const shown = (await figure.innerText()).trim()
    await figure.click()
    const said = panel.getByRole('heading', { level: 2 })
    await expect(said).toHaveText(title)
    await expect(said).toContainText(shown.split(/\s/)[0]!)
    return shown
  }
  await opens(/Autumn kits/, /^claimed$/, /^Claims by networks: /)
  await expect(panel).toContainText('Autumn kits')
  // Another figure, and the same of another row, open without closing first.
  await opens(/Autumn kits/, /^proven$/, /^Proven orders: /)
  const proven = await opens(/Gift season/, /^proven$/, /^Proven orders: /)
  await expect(panel).toContainText('Gift season')
  await expect(panel).toContainText(`${proven} orders, worth`)
  await opens(/Gift season/, /^impressions$/, /^Impressions: /)
  await opens(/Gift season/, /^cost tracked$/, /^Spend for each order proven or tagged: /)
  await opens(/Gift season/, /^ROAS$/, /^Value of estimated orders over spend: /)
  await opens(/Gift season/, /^spend/, /^Spend: /)

  const many = Number((await opens(/All ads/, /^proven$/, /^Proven orders: /)).replaceAll(',', ''))
  expect(many).toBeGreaterThan(200)
  const more = panel.getByRole('button', { name: /more|earlier/i })
  const listed = panel.getByRole('link')
  await expect(listed.first()).toBeVisible()
  while ((await more.count()) > 0) {
    const before = await listed.count()
    await more.click()
    await expect.poll(() => listed.count()).toBeGreaterThan(before)
  }
  expect(await listed.count()).toBe(many)
})

test('rows by what clicks say sum to the whole, open to what they show, and judge no spend that is not split', async ({
  page,
}) => {
  await page.goto(`${app.origin}/weigh?set=evidence&columns-weigh-evidence=${COLUMNS}`)
  await expect(page.getByRole('row', { name: /All ads/ })).toBeVisible()
  // Rows by what clicks say cannot be marked: their columns begin one further left.
  const cell = async (row: RegExp, column: RegExp) => {
    const columns = await page.getByRole('columnheader').allInnerTexts()
    const at = columns.findIndex(text => column.test(text.replace(/\s+/g, ' ').replace(/ [↑↓]$/, ''))) - 1
    return page.getByRole('row', { name: row }).first().getByRole('cell').nth(at)
  }
  const number = async (row: RegExp, column: RegExp) =>
    Number((await (await cell(row, column)).getByRole('button').first().innerText()).replaceAll(',', ''))
  const all = [await number(/All ads/, /^proven$/), await number(/All ads/, /^estimated$/)]

  const below = (name: string) => new RegExp(`^Show what is below ${name}`)
  const placements = ['feed', 'stories', 'sidebar', 'search', 'timeline', 'replies', 'not split'].map(below)
  const by = (label: string, row: RegExp) =>
    expect(async () => {
      await page.getByLabel('Rows by').selectOption({ label })
      await expect(page.getByRole('row', { name: row })).toBeVisible({ timeout: 5000 })
    }).toPass()
  await by('by placement', below('feed'))
  let [proven, estimated] = [0, 0]
  for (const row of placements) {
    proven += await number(row, /^proven$/)
    estimated += await number(row, /^estimated$/)
  }
  expect(proven).toBe(all[0])
  expect(estimated).toBeCloseTo(all[1]!, 6)
  await expect(await cell(below('not split'), /^cost estimated$/)).toHaveText('—')
  await expect(await cell(below('not split'), /^verdict$/)).toHaveText('')

  const feed = await number(below('feed'), /^proven$/)
  await (await cell(below('feed'), /^proven$/)).getByRole('button').click()
  await expect(evidence(page).getByRole('heading', { level: 2 })).toHaveText(/^Proven orders: /)
  await expect(evidence(page)).toContainText(`${feed} orders, worth`)
  await page.keyboard.press('Escape')

  await by('by weekday of the click', below('Monday'))
  expect(await number(below('Monday'), /^spend/)).toBeGreaterThan(0)
  await (await cell(below('Monday'), /^spend/)).getByRole('button').click()
  await expect(evidence(page).getByRole('heading', { level: 2 })).toHaveText(/^Spend: /)
})

test('a step of a journey is removed, and comes back, with the page as it was', async ({ page }) => {
  await page.goto(`${app.origin}/results/journey`)
  const steps = page.getByRole('list', { name: 'Steps' })
  await steps.getByRole('button', { name: 'Basket', exact: true }).click()
  const name = page.getByLabel('Name', { exact: true })
  await name.fill('Basket or gift')
  await page.getByRole('button', { name: 'Remove it' }).click()
  await expect(steps.getByRole('button', { name: 'Move Basket' })).toHaveCount(0)
  await expect(steps.getByRole('listitem')).toHaveCount(5)
  await expect(heading(page)).toContainText('came to order')
  await page.keyboard.press('u')
  await expect(steps.getByRole('button', { name: 'Basket', exact: true })).toBeVisible()
  await expect(heading(page)).toContainText('came to order')
})

test('an amount is read by anybody’s habit, shown as it is kept, or refused with words', async ({ page }) => {
  await page.goto(`${app.origin}/weigh`)
  const counting = page.getByRole('button', { name: /last click, 30 days/ })
  await counting.click()
  const target = page.getByLabel('Target cost per order')
  await target.fill('12 or so')
  await page.getByRole('button', { name: 'Count by these' }).click()
  await expect(page.getByRole('alert').filter({ hasText: '12 or so' })).toBeVisible()
  await target.fill('1.250,00')
  await target.blur()
  await expect(target).toHaveValue('1250.00')
  await page.getByRole('button', { name: 'Count by these' }).click()
  await expect(heading(page)).toContainText('the line is 1,250.00')
  await counting.click()
  await expect(target).toHaveValue('1250.00')
  await target.fill('')
  await page.getByRole('button', { name: 'Count by these' }).click()
  await expect(heading(page)).not.toContainText('1,250.00')
})

test('a few letters find any page, action, period, network, ad, order, link and rule', async ({ page }) => {
  await page.goto(`${app.origin}/reconcile`)
  const order = await page.request
    .get(`${app.origin}/api/arrivals?kind=order`)
    .then(async answer => (await answer.json()).arrivals[0].id as string)
  for (const [typed, found] of [
    ['hand-o', /Hand-off/],
    ['import', /Import files/],
    ['how results are counted', /Change how results are counted/],
    ['7 days', /7 days/],
    ['mothwire only', /Mothwire only/],
    ['hands at the loom', /Hands at the loom/],
    [order, new RegExp(`${order} order`)],
    ['craft fair', /Banner at the craft fair saved link/],
    ['booklet', /rule/],
  ] as const) {
    await page.getByRole('button', { name: /^Find/ }).click()
    const text = page.getByPlaceholder(/^Page, action, period/)
    await text.fill(typed)
    await expect(page.getByRole('option', { name: found }).first()).toBeVisible()
    await page.keyboard.press('Escape')
    await expect(text).toBeHidden()
  }
})

test('a table is sorted, filtered, arranged, copied and saved like every other', async ({
  page,
  context,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write'])
  await page.goto(`${app.origin}/weigh?set=awareness`)
  const table = page.getByRole('table', { name: 'Campaigns, ad sets and ads' })
  await expect(page.getByRole('row', { name: /All ads/ })).toBeVisible()
  const firstOf = () => table.locator('tbody tr').first().getByRole('rowheader').innerText()
  const heads = () => table.getByRole('columnheader').allInnerTexts()
  await table.getByRole('button', { name: /^clicks/ }).click()
  await expect(table.getByRole('columnheader', { name: /^clicks/ })).toHaveAttribute(
    'aria-sort',
    'descending',
  )
  await page.getByLabel('Filter by name').fill('yarn kelpie')
  // As many as fit are said and shown: the campaign, and what below it has the word as well.
  await expect(table.locator('tbody').getByRole('rowheader').filter({ hasNotText: /yarn/i })).toHaveCount(0)
  const shown = await table.locator('tbody').getByRole('rowheader').count()
  await expect(page.getByText(new RegExp(`^${shown} of \\d+ rows`))).toBeVisible()
  expect(await firstOf()).toContain('Yarn search')

  // Of what stands above a find, nothing else below is shown.
  await page.getByLabel('Filter by name').fill('Hands at the loom')
  await expect(table.locator('tbody').getByRole('rowheader')).toHaveCount(3)
  await page.getByLabel('Filter by name').fill('yarn kelpie')

  // Columns are kept in this browser, and go along in an address.
  await page.getByRole('button', { name: 'Columns', exact: true }).click()
  const menu = page.getByRole('dialog', { name: 'Columns' })
  await menu.getByText('impressions', { exact: true }).click()
  await menu.getByRole('button', { name: 'clicks further left' }).click()
  await menu.getByRole('button', { name: 'Copy an address with these' }).click()
  const address = await page.evaluate(() => navigator.clipboard.readText())
  await page.keyboard.press('Escape')
  const arranged = await heads()
  expect(arranged.join()).not.toContain('impressions')
  expect(arranged.findIndex(h => h.startsWith('clicks'))).toBeLessThan(
    arranged.findIndex(h => h.startsWith('CPM')),
  )
  await page.reload()
  await expect.poll(heads).toEqual(arranged.map(h => h.replace(' ↓', '').replace(/^spend$/, 'spend ↓')))
  await page.evaluate(() => localStorage.clear())
  await page.goto(address)
  await expect.poll(async () => (await heads()).join()).not.toContain('impressions')

  // With the keyboard alone, as soon as the page has come alive: a row on, copied as a spreadsheet takes it.
  const copied = () => page.evaluate(() => navigator.clipboard.readText())
  await expect(async () => {
    await page.locator('body').press('j')
    await page.keyboard.press('Control+c')
    expect(await copied()).toContain('\t')
  }).toPass()
  const [line, row] = (await copied()).split('\n')
  expect(row!.split('\t').length).toBe(line!.split('\t').length)
  expect(row!.split('\t')[line!.split('\t').indexOf('spend')]).toMatch(/^\d+\.\d\d$/)
  const here = table.locator('tr[data-here]').getByRole('rowheader').locator('.row-name span').first()
  expect(row).toContain(await here.innerText())
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'CSV of what is shown' }).click(),
  ])
  expect(file.suggestedFilename()).toBe('campaigns-ad-sets-and-ads.csv')
})
