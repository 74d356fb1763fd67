import { mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { demoFor } from './application'
import { expect, type Page, test } from './test'

const app = demoFor()

test.use({ userAgent: 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0' })

/** What rules told of a result, by a mark of the page. */
async function told(page: Page, result: string, mark: string): Promise<number> {
  const { arrivals } = await (await page.request.get(`${app.origin}/api/arrivals?kind=event`)).json()
  return arrivals.filter(
    (a: { name: string; landing: string | null; raw: { attributes: { rule?: string } } }) =>
      a.name === result && a.raw.attributes.rule && a.landing?.includes(mark),
  ).length
}

/** How many rules the application has, and how many the collector gives to the tag. */
async function countRules(page: Page): Promise<[had: number, served: number]> {
  const title = await page.getByRole('heading', { level: 1 }).innerText()
  const shown = await page.request.get(`${app.practice}/kits`, {
    headers: { host: new URL(app.shop).host },
  })
  const [, site] = /data-site="([^"]+)"/.exec(await shown.text()) ?? []
  const { rules } = await (await page.request.get(`${app.collector}/r/${site}`)).json()
  return [Number(/^(\d+) rule/.exec(title)?.[1] ?? 0), rules.length]
}

/** Adds a rule for the fitting call on the page of the floor looms. */
async function addRule(
  page: Page,
  when: string,
  more: (page: Page) => Promise<void>,
  where = '/floor-looms',
) {
  await page.goto(`${app.origin}/signals`)
  const [before] = await countRules(page)
  await page.getByRole('button', { name: 'Add a rule' }).click()
  await page.getByLabel('Result', { exact: true }).selectOption('Fitting call')
  await page.getByLabel('When', { exact: true }).selectOption(when)
  await more(page)
  await page
    .getByLabel(/address, comparison 1$/)
    .first()
    .selectOption('contains')
  await page
    .getByLabel(/address, text 1$/)
    .first()
    .fill(where)
  await page.getByRole('button', { name: 'Give it to the tag' }).click()
  await expect(page.getByRole('region', { name: 'A new rule' })).toHaveCount(0)
  // A page that is opened before the collector has it would keep the rules of before for a while.
  await expect.poll(() => countRules(page)).toEqual([before + 1, before + 1])
}
const nothing = async () => {}

/** The page of the floor looms, once the tag has its rules. */
async function openLooms(page: Page, mark: string) {
  await page.goto(`${app.shop}/floor-looms?${mark}`)
  // The tag places networks' codes in the same breath as it sets the rules going.
  await page.locator('script[data-aq-placed]').first().waitFor({ state: 'attached' })
}
async function removeRules(page: Page) {
  await page.goto(`${app.origin}/signals`)
  const rows = page.getByRole('row').filter({ hasText: 'Fitting call' })
  for (let left = await rows.count(); left > 0; left--) {
    await rows.first().getByRole('button', { name: 'Remove' }).click()
    await expect(rows).toHaveCount(left - 1)
  }
}
test.afterEach(({ page }) => removeRules(page))

test('an order is heard of by the shop, the tag, and a reload, and counts once', async ({ page }) => {
  // Days that stand still: the seven days of Results move on, and an order may leave them meanwhile.
  const day = (ahead: number) => new Date(Date.now() + ahead * 86_400_000).toISOString().slice(0, 10)
  const days = `from=${day(-2)}&to=${day(1)}`
  const orders = async (): Promise<number> =>
    (await (await page.request.get(`${app.origin}/api/judge?${days}`)).json()).gap.orders
  const before = await orders()
  await page.goto(`${app.shop}/kits`)
  await page.getByRole('link', { name: 'Buy Yarn set Moss' }).click()
  await page.getByLabel('E-mail').fill('ana@post.example')
  await page.getByRole('button', { name: 'Place the order' }).click()
  const id = /P[0-9A-Z]{7,9}/.exec(await page.locator('[data-order]').innerText())![0]
  await expect.poll(() => told(page, 'order', id)).toBe(1)
  await page.reload()
  await expect.poll(() => told(page, 'order', id)).toBe(2)
  await expect.poll(orders).toBe(before + 1)
})

test('a form that its page refuses is no lead; one that is sent is not lost with the page', async ({
  page,
}) => {
  await page.goto(`${app.shop}/booklet?lead=form`)
  await page.getByLabel('E-mail').fill('not an address')
  await page.getByRole('button', { name: 'Send me the booklet' }).click()
  await expect.poll(() => told(page, 'page', 'nothing')).toBe(0)
  await page.getByLabel('E-mail').fill('ana@post.example')
  await page.getByRole('button', { name: 'Send me the booklet' }).click()
  await expect(page).toHaveURL(/booklet\/thanks/)
  await expect.poll(() => told(page, 'booklet', 'lead=form')).toBe(1)
})

test('clicks, elements in view and scrolling fire where they should, and a link that leaves is not lost', async ({
  page,
}) => {
  await addRule(page, 'something is clicked', p => p.getByLabel('Selector').fill('.call'))
  await addRule(page, 'something comes into view', p => p.getByLabel('Selector').fill('#fitting'))
  await addRule(page, 'the page is scrolled down to', p => p.getByLabel('Per cent').fill('90'))
  await addRule(page, 'a link is clicked', nothing, '/kits?from=floor-looms')
  const marks = ['clicked', 'seen', 'left'] as const
  const [clicked, seen, left] = marks
  await openLooms(page, clicked)
  await page.getByText('Ask later').click()
  await page.getByText('Call', { exact: true }).click()
  await expect.poll(() => told(page, 'fitting-call', clicked)).toBe(1)
  await openLooms(page, seen)
  await page.locator('#fitting').scrollIntoViewIfNeeded()
  await page.evaluate(() => scrollTo(0, document.documentElement.scrollHeight))
  // In view, and nine tenths down: two rules, each once.
  await expect.poll(() => told(page, 'fitting-call', seen)).toBe(2)
  await openLooms(page, left)
  await page.getByText('Table looms instead').click()
  await expect(page).toHaveURL(/from=floor-looms/)
  await expect.poll(() => told(page, 'fitting-call', left)).toBe(1)
})

test('a video counts by what was played: not by pausing, nor by skipping on', async ({ page }) => {
  await addRule(page, 'a video was played to', p => p.getByLabel('Per cent').fill('50'))
  await openLooms(page, 'video')
  const play = (from: number, to: number, then = 'pause') =>
    page.evaluate(
      ([start, end, last]) => {
        const video = document.querySelector('video')!
        let at = start as number
        Object.defineProperty(video, 'duration', { value: 20, configurable: true })
        Object.defineProperty(video, 'currentTime', { get: () => at, configurable: true })
        video.dispatchEvent(new Event('play'))
        for (; at <= (end as number); at += 0.25) video.dispatchEvent(new Event('timeupdate'))
        video.dispatchEvent(new Event(last as string))
      },
      [from, to, then],
    )
  await play(0, 6)
  // Skipped on, then two seconds more: eight of twenty were played.
  await play(16, 18)
  await page.evaluate(() => (window as never as { aequant: (n: string) => void }).aequant('looked'))
  await expect
    .poll(async () => (await page.request.get(`${app.origin}/api/arrivals?kind=event`)).text())
    .toContain('looked')
  expect(await told(page, 'fitting-call', 'video')).toBe(0)
  await play(6, 9)
  await expect.poll(() => told(page, 'fitting-call', 'video')).toBe(1)
  await play(9, 20, 'ended')
  // From the beginning again it is another play.
  await play(0, 20, 'ended')
  await expect.poll(() => told(page, 'fitting-call', 'video')).toBe(2)
})

test('engaged time stands still while the tab is hidden; an own event of the page makes a result', async ({
  page,
}) => {
  await addRule(page, 'the page was looked at for', p => p.getByLabel('Seconds').fill('5'))
  await addRule(page, 'the page tells its own event', p => p.getByLabel('Event').fill('called'))
  await page.clock.install()
  await openLooms(page, 'engaged')
  const hide = (state: string) =>
    page.evaluate(
      s => Object.defineProperty(document, 'visibilityState', { get: () => s, configurable: true }),
      state,
    )
  await page.clock.runFor(3000)
  await hide('hidden')
  await page.clock.runFor(20_000)
  expect(await told(page, 'fitting-call', 'engaged')).toBe(0)
  await hide('visible')
  await page.mouse.move(40, 40)
  await page.clock.runFor(4000)
  await expect.poll(() => told(page, 'fitting-call', 'engaged')).toBe(1)
  await page.evaluate(() =>
    (window as never as { aequant: (n: string, f: object) => void }).aequant('called', {
      value: '12.00',
      currency: 'EUR',
    }),
  )
  await page.clock.runFor(1000)
  await expect.poll(() => told(page, 'fitting-call', 'engaged')).toBe(2)
})

test('a rule that would count every visit is refused while it is written', async ({ page }) => {
  await page.goto(`${app.origin}/signals`)
  await page.getByRole('button', { name: 'Add a rule' }).click()
  await page.getByLabel('The page’s address, comparison 1').selectOption('begins with')
  await page.getByLabel('The page’s address, text 1').fill(`${app.shop}/`)
  await expect(page.getByText('each visit would become a result')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Give it to the tag' })).toBeDisabled()
  await page.getByLabel('The page’s address, text 1').fill(`${app.shop}/thanks`)
  await expect(page.getByText('each visit would become a result')).toHaveCount(0)
  await expect(page.getByRole('button', { name: 'Give it to the tag' })).toBeEnabled()
})

test('a result is defined with what it would have counted, changed, and archived', async ({ page }) => {
  await page.goto(`${app.origin}/results`)
  await page.getByRole('button', { name: 'Order', exact: true }).click()
  const form = page.getByRole('region', { name: 'Order' })
  await expect(form.getByText(/Counted in the last seven days: \d+ worth/)).toBeVisible()
  await form.getByLabel('Nothing below').fill('100.00')
  await expect(form.getByText(/left out: worth less than the minimum/)).toBeVisible()
  // What was typed waits while another is looked at, and is left only when somebody says so.
  await page.getByRole('button', { name: 'Fitting call', exact: true }).click()
  await page.getByRole('button', { name: 'Order', exact: true }).click()
  await expect(form.getByLabel('Nothing below')).toHaveValue('100.00')
  await form.getByRole('button', { name: 'As it was' }).click()
  await expect(form.getByLabel('Nothing below')).toHaveValue('')
  await form.getByLabel('Nothing below').fill('90.00')
  await form.getByRole('button', { name: 'Close' }).click()
  await form.getByRole('button', { name: 'Leave it' }).click()
  await page.getByRole('button', { name: 'Order', exact: true }).click()
  await expect(form.getByLabel('Nothing below')).toHaveValue('')
  await form.getByRole('button', { name: 'Close' }).click()
  await page.getByRole('button', { name: 'Define a result' }).click()
  const fresh = page.getByRole('region', { name: 'A new result' })
  await fresh.getByLabel('Name').fill('Sample card')
  await expect(fresh.getByText('it would have counted: 0 worth 0.00 EUR')).toBeVisible()
  await fresh.getByRole('button', { name: 'Keep the result' }).click()
  await page.getByLabel('Sample card at Kelpie').fill('purchase')
  await page.keyboard.press('Enter')
  await expect(page.getByText('also stands for Order')).toBeVisible()
  await page.getByRole('button', { name: 'Sample card' }).click()
  await page.getByRole('button', { name: 'Archive it' }).click()
  await expect(page.getByRole('button', { name: 'Sample card' })).toHaveCount(0)
  await page.keyboard.press('u')
  await expect(page.getByRole('button', { name: 'Sample card' })).toBeVisible()
})

const breakShop = (page: Page, how: string) =>
  page.request.post(`${app.practice}/break`, {
    form: { how },
    headers: { host: new URL(app.shop).host },
  })

const THANKS = '/thanks?order=B1&cents=2290&test=yes'
/** Each way in which the shop can be broken, where it shows, and the finding that names it. */
const broken: [how: string, where: string, finding: string][] = [
  ['base_missing', '/kits', 'base_missing'],
  ['base_twice', '/kits', 'base_twice'],
  ['base_not_in_head', '/kits', 'base_not_in_head'],
  ['wrong_account', '/kits', 'wrong_account'],
  ['insecure_tag', '/kits', 'insecure_tag'],
  ['event_before_base', THANKS, 'event_before_base'],
  ['event_wrong_page', '/kits', 'event_wrong_page'],
  ['currency_missing', THANKS, 'currency_missing'],
  ['script_error', THANKS, 'script_error'],
]

test('the page check finds each way in which the shop is broken, and nothing when it is whole', async ({
  page,
}) => {
  await page.goto(`${app.origin}/signals/check`)
  const check = () => page.getByRole('button', { name: 'Fetch and check' }).click()
  await breakShop(page, 'none')
  await check()
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Nothing is wrong')
  for (const [how, where, finding] of broken) {
    await breakShop(page, how)
    await page.getByLabel('Address of the page').fill(`${app.shop}${where}`)
    await check()
    await expect(
      page.getByRole('table', { name: 'What is wrong' }).getByRole('cell', { name: finding }),
    ).toBeVisible()
  }
  await breakShop(page, 'none')
})

test('a recording of a real visit is well, and with a broken shop it is not', async ({ page, browser }) => {
  const folder = mkdtempSync(join(tmpdir(), 'aequant-har-'))
  const record = async (name: string) => {
    const path = join(folder, name)
    const context = await browser.newContext({ recordHar: { path } })
    const visit = await context.newPage()
    await visit.goto(`${app.shop}/kits`)
    await visit.waitForLoadState('networkidle')
    await visit.goto(`${app.shop}${THANKS}`)
    await visit.waitForLoadState('networkidle')
    await context.close()
    return path
  }
  await breakShop(page, 'none')
  const whole = await record('whole.har')
  const recordings: [file: string, finding: string][] = []
  for (const how of ['base_missing', 'currency_missing', 'script_error']) {
    await breakShop(page, how)
    recordings.push([await record(`${how}.har`), how === 'script_error' ? 'event_missing' : how])
  }
  await breakShop(page, 'none')
  await page.goto(`${app.origin}/signals/check`)
  const file = page.getByLabel('Saved page or recording')
  await file.setInputFiles(whole)
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Nothing is wrong')
  for (const [recording, finding] of recordings) {
    await file.setInputFiles(recording)
    await expect(page.getByRole('cell', { name: finding }).first()).toBeVisible()
  }
})

/** Begins a live test on a page of the shop and opens it, as the link says. */
async function beginTest(page: Page, where: string): Promise<Page> {
  await page.goto(`${app.origin}/signals/live-test`)
  const end = page.getByRole('button', { name: 'End the test' })
  const begin = page.getByRole('button', { name: /^Begin/ })
  await expect(end.or(begin)).toBeVisible()
  if (await end.isVisible()) await end.click()
  await page.getByLabel('Page on which the visit begins').fill(`${app.shop}${where}`)
  await begin.click()
  const opened = page.context().waitForEvent('page')
  await page.getByRole('link', { name: 'Open the page in another tab' }).click()
  return opened
}

test('a live test shows each page and signal as it happens, counts a reload once, and counts nothing', async ({
  page,
}) => {
  await breakShop(page, 'none')
  const visit = await beginTest(page, '/kits')
  await expect(page.getByRole('region', { name: 'Tarnbrook Looms' })).toContainText('nothing was')
  await visit.getByRole('link', { name: 'Buy Yarn set Moss' }).click()
  await expect(visit.locator('[data-aq="test"]')).not.toHaveValue('')
  await visit.getByLabel('E-mail').fill('ana@post.example')
  await visit.getByRole('button', { name: 'Place the order' }).click()
  const order = await visit.locator('[data-order]').getAttribute('data-order')
  const thanks = page.getByRole('region', { name: 'Thank you' })
  await expect(thanks).toHaveCount(1)
  await expect(thanks).toContainText(`order.${order}`)
  // Five networks by code, of the site and of our tag; four from the server, and what they answered.
  await expect(thanks.getByText(/^sent as /)).toHaveCount(5)
  await expect(thanks.getByText('server: taken, 200')).toHaveCount(4)
  await visit.reload()
  await expect(thanks).toHaveCount(2)
  await expect(thanks.first()).toContainText('told before: counts once')
  await expect(page.getByRole('heading', { level: 1 })).toContainText('nothing is wrong')
  await visit.close()
  // It is nowhere among what counts, and the shop's order is a test.
  await expect
    .poll(async () => {
      const { arrivals } = await (await page.request.get(`${app.origin}/api/arrivals`)).json()
      return arrivals
        .filter((a: object) => JSON.stringify(a).includes(order!))
        .map((a: { kind: string; raw: { status?: string } }) => [a.kind, a.raw.status])
    })
    .toEqual([['order', 'test']])
})

test('a live test finds each way in which the shop is broken', async ({ page }) => {
  for (const [how, where, finding] of broken) {
    await breakShop(page, how)
    const visit = await beginTest(page, where)
    await expect(page.getByText(finding, { exact: true }).first()).toBeVisible()
    await visit.close()
  }
  await breakShop(page, 'none')
})

/** What a practice network heard of an order, the latest first. */
async function heard(page: Page, network: string, order: string): Promise<string[]> {
  const answer = await page.request.get(`${app.practice}/heard`, {
    headers: { host: new URL(app.norrfeed).host.replace('norrfeed', network) },
  })
  return (await answer.text()).split('<article>').filter(part => part.includes(`>order.${order}<`))
}
async function buyFrom(page: Page, network: string, landed = async () => {}): Promise<string> {
  await page.goto(app.norrfeed.replace('norrfeed', network))
  await page.getByRole('link', { name: /^See / }).first().click()
  await landed()
  await page.getByRole('link', { name: 'Buy Yarn set Moss' }).click()
  await page.getByLabel('E-mail').fill('ana@post.example')
  await page.getByRole('button', { name: 'Place the order' }).click()
  return (await page.locator('[data-order]').getAttribute('data-order'))!
}

test('a network hears of an order by browser and server, and counts it once, reloaded or not', async ({
  page,
}) => {
  for (const network of ['kelpie', 'norrfeed']) {
    // The network's own script has kept its click ID.
    const order = await buyFrom(page, network, async () => {
      await page.waitForFunction(key => localStorage.getItem(key), `${network}_ref`)
    })
    await expect.poll(async () => (await heard(page, network, order)).length).toBe(2)
    await page.reload()
    await expect.poll(async () => (await heard(page, network, order)).length).toBe(3)
    const all = (await heard(page, network, order)).join()
    expect(all.match(/· claimed for ad/g)).toHaveLength(1)
    expect(all.match(/counted once/g)).toHaveLength(2)
    expect(all).toContain('by server')
  }
})

test('an order that the browser lost arrives by the server, also when the network stumbles', async ({
  page,
}) => {
  await page.request.post(`${app.practice}/trouble`, {
    form: { times: '1' },
    headers: { host: new URL(app.norrfeed).host.replace('norrfeed', 'whyfold') },
  })
  await page.route(/aq\.js|why\.js/, route => route.abort())
  const order = await buyFrom(page, 'whyfold')
  await page.goto(`${app.origin}/signals/networks`)
  const line = page
    .getByRole('row')
    .filter({ hasText: `order.${order}` })
    .filter({ hasText: 'whyfold' })
  await expect
    .poll(
      async () => {
        await page.reload()
        return (await line.count()) > 0 && line.innerText()
      },
      { timeout: 60_000 },
    )
    .toMatch(/taken\s+2 tries; 200/)
  expect(await heard(page, 'whyfold', order)).toEqual([expect.stringMatching(/by server · claimed for ad/)])
})

test('no page inside the network is fetched', async ({ page }) => {
  await page.goto(`${app.origin}/signals/check`)
  for (const inside of [
    'http://127.0.0.1:4610/health',
    'http://localhost:4600/',
    'http://[::1]/',
    'http://10.0.0.1/',
    'http://169.254.1.1/',
  ]) {
    await page.getByLabel('Address of the page').fill(inside)
    await page.getByRole('button', { name: 'Fetch and check' }).click()
    await expect(
      page.getByText('is not on the public internet').or(page.getByText('cannot be found')),
    ).toBeVisible()
  }
})

test('a journey is drawn with counts, rates and costs, its weakest step named; steps move by drag and by keys', async ({
  page,
}) => {
  await page.goto(`${app.origin}/results/journey`)
  const title = page.getByRole('heading', { level: 1 })
  await expect(title).toContainText(
    /Of [\d,]+ shoppers who came by an ad, \d+ came to order, at [\d.]+ EUR each/,
  )
  await expect(title).toContainText('The weakest step is')
  const steps = page.getByRole('list', { name: 'Steps' }).getByRole('listitem')
  const names = async () =>
    (
      await steps
        .getByRole('button')
        .filter({ hasNot: page.locator('svg') })
        .allInnerTexts()
    ).join(' ')
  const whole = 'Arrival Pattern booklet Kit page Basket Checkout Order'
  await expect.poll(names).toBe(whole)
  await page.getByRole('button', { name: 'Move Basket' }).focus()
  await page.keyboard.press('Space')
  // What is said to those who cannot see it.
  await expect(page.getByText('Basket is at the place of Basket.')).toBeAttached()
  await page.keyboard.press('ArrowDown')
  await expect(page.getByText('Basket is at the place of Checkout.')).toBeAttached()
  await page.keyboard.press('Space')
  const moved = 'Arrival Pattern booklet Kit page Checkout Basket Order'
  await expect.poll(names).toBe(moved)
  await page.reload()
  await expect.poll(names).toBe(moved)
  // The other way round hardly anybody goes.
  await expect(steps.filter({ hasText: 'of Checkout' })).toContainText('weakest step')
  const middle = async (name: string) => {
    const { x, y, width, height } = (await page.getByRole('button', { name }).boundingBox())!
    return { x: x + width / 2, y: y + height / 2 }
  }
  const [from, to] = [await middle('Move Basket'), await middle('Move Checkout')]
  await page.mouse.move(from.x, from.y)
  await page.mouse.down()
  await page.mouse.move(from.x, from.y - 10, { steps: 3 })
  await page.mouse.move(to.x, to.y - 5, { steps: 8 })
  await expect(page.getByText('Basket is at the place of Checkout.')).toBeAttached()
  await page.mouse.up()
  await expect.poll(names).toBe(whole)

  // By campaign the steps add up to the whole, and a scope narrows them.
  const table = page.getByRole('region', { name: 'By campaign' })
  const arrivals = async () =>
    (await table.getByRole('row').locator('td:nth-child(2)').allInnerTexts())
      // A campaign of which nobody was seen has a dash, and its spend is in no cost.
      .filter(text => !text.startsWith('—'))
      .map(text => Number(text.split(/\s/)[0]!.replace(/,/g, '')))
  const counts = (await arrivals()).slice(0, -1)
  const shown = Number((await steps.first().innerText()).match(/[\d,]{3,}/)![0].replace(/,/g, ''))
  expect(counts.reduce((a, b) => a + b, 0)).toBe(shown)
  await page.goto(`${app.origin}/results/journey?network=kelpie`)
  await expect(table.getByRole('row').filter({ hasText: 'Norrfeed' })).toHaveCount(0)
  expect((await arrivals()).reduce((a, b) => a + b, 0)).toBeLessThan(shown)
})

test('past days that were not as usual are found, with what it probably was and where to look', async ({
  page,
}) => {
  await page.goto(`${app.origin}/results`)
  const rows = page.getByRole('region', { name: 'Not as usual' }).getByRole('row')
  // Shoppers of the tests before have reloaded pages today: the story's days stand last.
  const repeats = rows.filter({ hasText: 'had been told before' }).last()
  await expect(repeats).toContainText('A thank-you page that is reloaded')
  // The network sums its claims: of the same days it is known that they are too many.
  const tooMany = rows
    .filter({ hasText: 'Norrfeed' })
    .filter({ hasText: /\d+ in a day where \d+ are usual/ })
    .last()
  await expect(tooMany).toBeVisible()
  const lost = rows.filter({ hasText: 'clicks on Kitchen table loom' })
  await expect(lost).toContainText(/of \d+ clicks that the network billed 0 arrived/)
  await lost.getByRole('link').click()
  await expect(page).toHaveURL(/\/links\?ad=norrfeed/)
  await page.goBack()
  await tooMany.getByRole('link').click()
  await expect(page).toHaveURL(/\/reconcile.*network=norrfeed/)
  await expect(page.getByRole('heading', { level: 1 })).toContainText('claims')
})

test('a figure of Results opens what it was counted from', async ({ page }) => {
  await page.goto(`${app.origin}/results`)
  const row = page
    .getByRole('row')
    .filter({ has: page.getByRole('button', { name: 'Pattern booklet', exact: true }) })
  await row.getByRole('link').click()
  await expect(page).toHaveURL(/kind=event&result=booklet/)
  await expect(page.getByRole('region', { name: 'Arrivals' }).getByText('booklet').first()).toBeVisible()
})
