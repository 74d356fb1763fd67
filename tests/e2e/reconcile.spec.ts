import { demoFor } from './application'
import { daysAgo } from './days'
import { expect, type Page, test } from './test'

const app = demoFor()
const heading = (page: Page) => page.getByRole('heading', { level: 1 }).first()
/** Opens a page and waits until its figures are there: the evidence may be gathered for the first time. */
async function open(page: Page, path: string) {
  await page.goto(app.origin + path)
  await expect(heading(page)).not.toHaveText(/^(Reading|Finding|Weighing) /)
}
const number = (text: string | null | undefined) => Number((text ?? '').replace(/[^\d.-]/g, ''))
/** The cells of a table's rows below its heading, as they are read. */
const cellsOf = (page: Page, table: string) =>
  page
    .getByRole('table', { name: table, exact: true })
    .locator('tbody tr')
    .evaluateAll(rows =>
      rows.map(row => [...row.children].map(cell => (cell as HTMLElement).innerText.trim())),
    )

test('the balance is told by cause, by week and day, and down to the ad, and each sums to the whole', async ({
  page,
}) => {
  await open(page, '/reconcile')
  const [orders, claims, , matched] = (await heading(page).innerText()).match(/\d[\d,]*/g)!.map(number)
  const causes = await cellsOf(page, 'Causes of the gap')
  const sum = (side: string) =>
    causes.filter(row => row[1] === side).reduce((all, row) => all + number(row[2]), 0)
  expect([sum('claims without an order'), sum('orders without a claim')]).toEqual([
    claims! - matched!,
    orders! - matched!,
  ])
  // What to do about a cause is one step away.
  await expect(page.getByRole('link', { name: 'Is its signal heard?' })).toHaveAttribute('href', /\/results/)

  for (const by of ['By week', 'By day']) {
    if (by === 'By day') await page.getByLabel('Each line is').selectOption('day')
    await expect(page.getByRole('table', { name: by, exact: true })).toBeVisible()
    const lines = await cellsOf(page, by)
    const sums = [1, 2, 3].map(column => lines.reduce((all, row) => all + number(row[column]), 0))
    expect(sums).toEqual([claims, matched, orders])
  }
  // By worth the same causes sum as well, with what both sides say of the same orders.
  await page.getByLabel('Causes by').selectOption('value')
  await expect(page.getByRole('img', { name: /^From [\d,]+ claims to/ })).toBeVisible()
  const answer = await (await page.request.get(`${app.origin}/api/reconcile/balance`)).json()
  const { gap } = answer.shows
  const worth = (side: (cause: string) => number) =>
    gap.causes.reduce(
      (all: number, one: { cause: string; value: number }) => all + side(one.cause) * one.value,
      0,
    )
  const ofClaims = ['repeat', 'shared', 'view_only', 'does_not_count', 'other_day', 'no_such_order']
  expect(gap.ordersValue - gap.claimsValue).toBe(worth(cause => (ofClaims.includes(cause) ? -1 : 1)))
  expect(answer.settings).toMatchObject({ margin: 0.52, credit: 'last_click' })

  const parts = page.getByRole('table', { name: 'By network, campaign, ad set and ad' })
  await expect(page.getByText('Ad sets and ads follow …')).toBeHidden()
  await parts.getByRole('button', { name: 'Show what is below Autumn kits' }).click()
  await parts.getByRole('button', { name: 'Show what is below Looks like buyers' }).click()
  const ad = parts.getByRole('row', { name: /Oak & wool\b(?!, tall)/ })
  await ad
    .getByRole('button', { name: /show the evidence/ })
    .first()
    .click()
  await expect(page.getByRole('complementary', { name: 'Evidence' })).toContainText('Oak & wool')
})

test('days are chosen by drawing over them', async ({ page }) => {
  await open(page, `/reconcile?from=${daysAgo(29)}&to=${daysAgo(10)}`)
  const chart = page.getByRole('img', { name: /^Orders, claims and capture by day/ })
  const box = (await chart.boundingBox())!
  await page.mouse.move(box.x + box.width * 0.4, box.y + 60)
  await page.mouse.down()
  await page.mouse.move(box.x + box.width * 0.5, box.y + 60, { steps: 4 })
  await page.mouse.move(box.x + box.width * 0.6, box.y + 60, { steps: 4 })
  await page.mouse.up()
  const days = (first: number, last: number) =>
    Array.from({ length: first - last + 1 }, (_, i) => daysAgo(first - i)).join('|')
  await expect(page).toHaveURL(new RegExp(`from=(${days(24, 21)})&to=(${days(19, 16)})`))
  await expect(page.getByRole('complementary', { name: 'Evidence' })).toBeHidden()
})

test('the day on which capture fell is found, and that it was not the ads', async ({ page }) => {
  await open(page, '/reconcile/changed?network=norrfeed')
  await page.getByRole('button', { name: 'Find when it changed' }).click()
  const turn = page.getByText(/^Claims per order changed (on|about)/)
  await expect(turn).toContainText(/less than once in 1,000 times/)
  await turn.getByRole('button', { name: 'Compare before and after' }).click()
  await expect(page).toHaveURL(/first=/)
  await expect(heading(page)).toContainText(/is tracking: claims per order fell from \d+ % to \d+ %/)
  await expect(heading(page)).toContainText('within chance')
  // The parts sum to the whole.
  const parts = await cellsOf(page, 'The four parts')
  const [more] = /[\d.]+/.exec(await heading(page).innerText())!
  expect(parts.reduce((all, row) => all + number(row[1]), 0)).toBeCloseTo(Number(more), 1)
  const tracking = parts.find(row => row[0]!.startsWith('Tracking'))!
  expect(tracking[3]).toMatch(/^([89]\d|100) %$|^more than all$/)
  const verdict = page
    .getByRole('table', { name: 'What changed by network and campaign' })
    .getByRole('row', { name: /Norrfeed/ })
    .first()
  await expect(verdict).toContainText('only seen less')
})

test('claims that are not certain are settled by keys; figures follow, and it can be taken back', async ({
  page,
}) => {
  await open(page, '/reconcile/bench')
  const left = async () => number(/^Of ([\d,]+) claims/.exec(await heading(page).innerText())?.[1])
  const before = await left()
  expect(before).toBeGreaterThan(1)
  const first = page.getByRole('listitem').filter({ hasText: 'It is' }).first()
  await expect(first).toContainText(/the same amount|more|less/)
  const order = await first.getByRole('link').innerText()
  await page.getByText('What was settled', { exact: true }).click()
  await page.keyboard.press('a')
  await expect(page.getByText(`It is for ${order}.`)).toBeVisible()
  await expect.poll(left).toBe(before - 1)
  // A claim comes back as soon as what was said of it is taken back.
  const next = page.getByRole('listitem').filter({ hasText: 'It is' }).first().getByRole('link')
  const second = await next.innerText()
  await page.keyboard.press('n')
  await expect(page.getByText('It is for none of ours.')).toBeVisible()
  await expect(next).not.toHaveText(second)
  await page.keyboard.press('u')
  await expect(next).toHaveText(second)
  await page.keyboard.press('n')
  await expect.poll(left).toBe(before - 2)
  const log = page.getByRole('table', { name: 'What was settled of claims' })
  await expect(log).toContainText(`for the order ${order}`)
  await expect(log).toContainText('for none of ours')
  await log.getByRole('button', { name: 'Take back' }).first().click()
  await expect.poll(left).toBe(before - 1)
  await log.getByRole('button', { name: 'Take back' }).click()
  await expect.poll(left).toBe(before)
  // What an order was can be said there too: then it no longer counts.
  await page.getByRole('button', { name: 'a test', exact: true }).first().click()
  await expect(page.getByText(/ was a test\.$/)).toBeVisible()
  await expect(page.getByText('it does not count: test').first()).toBeVisible()
  await page.keyboard.press('u')
  await expect(page.getByText('it does not count: test')).toBeHidden()
  // What is left for later is not lost.
  const again = page.getByRole('button', { name: 'Take up those that were left' })
  const claim = page.getByRole('heading', { name: /^Kelpie claims/ })
  for (let i = 0; i < before; i++) {
    await expect(claim).toBeVisible()
    await page.keyboard.press('s')
  }
  await again.click()
  await expect(claim).toBeVisible()
})

test('a window that is drawn shows at once what the network would claim by it', async ({ page }) => {
  await open(page, '/reconcile/rules')
  const rows = await cellsOf(page, 'Each network by its own rule')
  const mothwire = rows.find(row => row[0] === 'Mothwire')!
  // It looks back two weeks only, so that it should claim no more than by ours.
  expect(number(mothwire[4])).toBeLessThanOrEqual(number(mothwire[3]))
  await page.getByLabel('Network to try it with').selectOption('mothwire')
  const said = page.getByText(/^14 days: /)
  await expect(said).toContainText(`now ${mothwire[5]}.`)
  await page.getByRole('slider', { name: 'Window of Mothwire in days' }).focus()
  await page.keyboard.press('Home')
  const orders = async (days: string) =>
    number(/: ([\d,]+) orders/.exec(await page.getByText(new RegExp(`^${days}: `)).innerText())?.[1])
  const least = await orders('1 day')
  await page.keyboard.press('End')
  expect(await orders('90 days')).toBeGreaterThanOrEqual(least)
  // The practice networks report the whole total.
  const kelpie = (await cellsOf(page, 'Amounts by network')).find(row => row[0] === 'Kelpie')!
  expect(kelpie.join(' ')).toContain('the whole total, before refunds')
})

test('the client’s page says the same in the client’s numbers, and is all that is printed', async ({
  page,
}) => {
  await open(page, '/reconcile')
  const orders = number((await heading(page).innerText()).match(/\d[\d,]*/)![0])
  await page.getByRole('link', { name: 'Client’s page' }).click()
  const sheet = page.getByRole('article', { name: 'The page for the client' })
  await expect(sheet).toContainText(`The shop booked ${orders.toLocaleString('en-GB')} orders`)
  await page.getByLabel('Numbers and dates as').selectOption('de-DE')
  await expect(sheet).toContainText(`The shop booked ${orders.toLocaleString('de-DE')} orders`)
  await expect(page).toHaveURL(/as=de-DE/)
  await page.emulateMedia({ media: 'print' })
  await expect(sheet).toBeVisible()
  await expect(page.getByRole('navigation', { name: 'Stations' })).toBeHidden()
  await expect(page.getByRole('button', { name: 'Print it' })).toBeHidden()
  // On a sheet of A4 all of it stands, to the last line.
  await page.setViewportSize({ width: 700, height: 1030 })
  const sizes = await page.evaluate(() => ({
    page: document.documentElement.scrollHeight,
    last: document.querySelector('article')!.getBoundingClientRect().bottom,
  }))
  expect(sizes.last).toBeLessThanOrEqual(sizes.page)
  expect(sizes.page).toBeLessThanOrEqual(1030)
})
