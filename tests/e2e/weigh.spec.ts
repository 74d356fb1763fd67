import { readFileSync } from 'node:fs'
import { type Application, demoFor } from './application'
import { daysAgo } from './days'
import { expect, type Page, test } from './test'

const heading = (page: Page) => page.getByRole('heading', { level: 1 }).first()
const evidence = (page: Page) => page.getByRole('complementary', { name: 'Evidence' })
const weighed = (page: Page) => page.getByRole('table', { name: 'Campaigns, ad sets and ads' })
const plan = (page: Page) => page.getByRole('region', { name: 'What if' })
const why = (page: Page) => page.getByRole('complementary', { name: 'Why' })
const openWeigh = async (page: Page, app: Application, query = '') => {
  await page.goto(`${app.origin}/weigh${query}`)
  await expect(weighed(page)).toBeVisible()
  await expect(page.getByText(/^(\d+ of )?\d+ rows$/)).toBeVisible()
}
/** An amount as the page writes it. */
const amount = (text: string | null) => Number((text ?? '').replaceAll(',', ''))
const DAY = /[A-Z][a-z]{2} \d{1,2}, \d{4}|\d{1,2} [A-Z][a-z]{2} \d{4}/

test.describe('with the mouse', () => {
  const app = demoFor()

  test('an ad that brings orders and calls has one verdict, whichever result is chosen', async ({ page }) => {
    const verdictOf = async (result: string, name: string) => {
      await openWeigh(page, app, result && `?result=${result}`)
      const button = page.getByRole('button', { name: new RegExp(`^${name}: .* Why\\?$`) })
      await expect(button).toBeVisible()
      return button.getAttribute('aria-label')
    }
    for (const name of ['Autumn kits', 'Loom stories']) {
      const byOrder = await verdictOf('', name)
      expect(await verdictOf('fitting-call', name)).toBe(byOrder)
      expect(await verdictOf('_all', name)).toBe(byOrder)
    }
    // The side result says what part of all value it is, and the panel which results there are.
    await openWeigh(page, app, '?result=fitting-call')
    await expect(page.getByText(/Fitting call is \d+ % of the value that ads bring/)).toBeVisible()
    await page.getByRole('button', { name: /^Autumn kits: .* Why\?$/ }).click()
    await expect(why(page)).toContainText(/Order \d+ %, Fitting call \d+ %/)
    await expect(why(page)).toContainText('share of all value')
    await page.keyboard.press('Escape')
    // From there to all results: value, ROAS and profit of everything.
    await page.getByRole('link', { name: 'all results by value' }).click()
    await expect(page.getByRole('heading', { level: 1 })).toContainText(/worth [\d,.]+ at a ROAS of [\d.]+/)
    await expect(weighed(page).getByRole('columnheader', { name: 'profit' })).toBeVisible()
    // What the table shows is what the judgement says, in the same period.
    const days = `from=${daysAgo(28)}&to=${daysAgo(1)}`
    await openWeigh(page, app, `?result=_all&${days}`)
    const { totals } = await (await page.request.get(`${app.origin}/api/judge?result=_all&${days}`)).json()
    await expect(page.getByRole('heading', { level: 1 })).toContainText(
      `ROAS of ${totals.roas.estimate.toFixed(2)}`,
    )
  })

  test('spend that no report splits is shared by clicks when asked, marked, and sums to the same', async ({
    page,
  }) => {
    await openWeigh(page, app, '?by=click.placement&network=norrfeed')
    const total = weighed(page).getByRole('row', { name: /^All of Norrfeed/ })
    const spend = async () => /[\d,]+\.\d\d/.exec((await total.innerText()).replace(/\s+/g, ' '))?.[0]
    const before = await spend()
    await expect(page.getByText(/No list: reports do not split spend by placement/)).toBeVisible()
    await expect(async () => {
      await page.getByLabel('Spend that no report splits').selectOption('by_clicks')
      await expect(page).toHaveURL(/spend=by_clicks/, { timeout: 2000 })
    }).toPass()
    await expect(page.getByText(/of the spend is shared by clicks \(≈\)/)).toBeVisible()
    await expect(weighed(page).getByText('≈').first()).toBeVisible()
    expect(await spend()).toBe(before)
    await expect(page.getByText(/No list: reports do not split spend/)).toHaveCount(0)
    // A shared figure opens to the same amount.
    const feed = weighed(page).getByRole('row', { name: /feed/ }).first()
    const link = feed.getByRole('button', { name: /show the evidence/ }).first()
    const shown = await link.innerText()
    await link.click()
    await expect(evidence(page)).toContainText(shown)
  })

  test('what is over its line is found, its reason read, money moved, and the outcome held against the forecast', async ({
    page,
  }) => {
    await openWeigh(page, app, '?network=mothwire')
    // What costs more than it may.
    await page.getByLabel('Which rows').selectOption({ label: 'over their line' })
    await expect(page).toHaveURL(/show=over/)
    await expect(weighed(page).getByRole('row', { name: /Loom stories/ })).toBeVisible()
    await expect(weighed(page).getByRole('row', { name: /12 patterns, free/ })).toHaveCount(0)
    // Why: in a sentence of its own figures, each of which opens.
    await page.getByRole('button', { name: 'Folds flat: cut. Why?' }).click()
    await expect(why(page)).toContainText(/1 % likely to pay back\./)
    await expect(why(page)).toContainText('It tires: clicks for each impression fell')
    await why(page)
      .getByRole('button', { name: /show the evidence/ })
      .first()
      .click()
    await expect(evidence(page)).toContainText('Spend')
    await page.keyboard.press('Escape')
    // Three are cut and one is raised; nothing has happened yet, and the account shows what it would come to.
    await page.getByLabel('Which rows').selectOption({ label: 'all rows' })
    await page.getByRole('button', { name: 'Show every ad' }).click()
    for (const name of ['Folds flat', 'No room for a loom?', 'Thread by thread'])
      await page.getByRole('checkbox', { name: `Mark ${name}` }).check()
    await page
      .getByRole('group', { name: 'With those marked' })
      .getByRole('button', { name: 'Cut', exact: true })
      .click()
    await page.getByLabel('Budget of Your first warp').selectOption({ label: '+50 %' })
    await expect(plan(page)).toContainText('4 ads spend otherwise')
    await expect(plan(page)).toContainText(
      /now [\d.,]+ (short of|over) break-even, then [\d.,]+ over break-even/,
    )
    await plan(page).getByRole('button', { name: 'Make these moves …' }).click()
    const dialog = page.getByRole('dialog', { name: 'Make these moves' })
    await expect(dialog).toContainText('Folds flat: cut')
    await dialog.getByLabel('Who decides').fill('Ines')
    await dialog.getByLabel('Why').fill('these posts are tired')
    await dialog.getByRole('button', { name: 'Keep as moves' }).click()

    await expect(page).toHaveURL(/\/weigh\/moves/)
    const list = page.getByRole('region', { name: /^Decided / })
    await expect(list).toContainText('“these posts are tired”')
    await expect(list).toContainText(/Expected of all ads of Mothwire, a day from the day after on/)
    // Its change sheet is in the network's own columns and words.
    const saved = page.waitForEvent('download')
    await list.getByRole('link', { name: /Change sheet for Mothwire/ }).click()
    const sheet = readFileSync(await (await saved).path(), 'utf8')
      .trim()
      .split(/\r?\n/)
    expect(sheet).toHaveLength(5)
    expect(sheet[0]).toContain('post')
    expect(sheet.filter(line => line.includes('stopped'))).toHaveLength(3)
    // Applied, the network serves by it.
    await list.getByRole('button', { name: 'Apply at Mothwire' }).click()
    await expect(list).toContainText(/told /)
    const mothwire = app.norrfeed.replace('norrfeed', 'mothwire')
    await page.goto(`${mothwire}/budgets`)
    await expect(page.getByRole('article')).toHaveCount(4)
    await expect(page.getByText('paused')).toHaveCount(3)
    await expect(page.getByText('150 % of its usual budget')).toBeVisible()
    await page.goto(mothwire)
    await expect(page.getByText('Folds flat')).toHaveCount(0)

    // A week later.
    await page.goto(`${app.origin}/weigh/moves?network=mothwire`)
    await page.getByRole('button', { name: 'Let the practice market go on for a week' }).click()
    await expect(page.getByText(/The practice market has gone on to/)).toBeVisible({ timeout: 120_000 })
    await expect(heading(page)).toContainText(
      /Of 1 forecast for the networks concerned, [01] came true within its range: [\d.]+ orders were foreseen, and [\d.]+ came/,
    )
    const moves = page.getByRole('table', { name: /^Moves of / })
    const spent = async (name: string) =>
      amount(
        await moves
          .getByRole('row', { name: new RegExp(name) })
          .getByRole('cell')
          .nth(4)
          .innerText(),
      )
    // The network really served otherwise: what was cut spent nothing, and the raised one about what it was given.
    expect(await spent('Folds flat')).toBe(0)
    const raised = moves.getByRole('row', { name: /Your first warp/ }).getByRole('cell')
    const wanted = 6 * amount(await raised.nth(3).innerText())
    expect(Math.abs(amount(await raised.nth(4).innerText()) / wanted - 1)).toBeLessThan(0.35)
    // Its history shows when it was changed.
    await moves.getByRole('link', { name: 'Folds flat' }).click()
    await expect(page.getByText(/▲ .*: Folds flat, cut, by Ines/)).toBeVisible()
    await expect(page.getByRole('row', { name: DAY }).first()).toBeVisible()

    // Taken back, the network serves as before.
    await page.goto(`${app.origin}/weigh/moves?network=mothwire`)
    await page.getByRole('button', { name: 'Take back' }).click()
    await expect(page.getByText('The moves are taken back.')).toBeVisible()
    await page.goto(`${mothwire}/budgets`)
    await expect(page.getByText('All as usual.')).toBeVisible()
  })

  test('proposals are said in sentences, and undone with a key', async ({ page }) => {
    await openWeigh(page, app, `?network=mothwire&from=${daysAgo(71)}&to=${daysAgo(5)}`)
    await page.getByRole('button', { name: 'What if …' }).click()
    await expect(plan(page)).toContainText('nothing is changed yet')
    await plan(page).getByRole('button', { name: 'Most worth for this budget' }).click()
    await expect(plan(page)).toContainText(/Raise .* by \d+ % to [\d.,]+ EUR: its next EUR brings back \d/)
    const said = await plan(page).getByText('spend', { exact: true }).locator('..').innerText()
    const amounts = (said.match(/[\d.,]+/g) ?? []).map(amount)
    expect(amounts.at(-1)).toBeLessThanOrEqual(amounts[0]!)
    await page.keyboard.press('u')
    await expect(plan(page)).toContainText('nothing is changed yet')
    // Money can be moved instead of saved.
    await page.getByRole('button', { name: 'Show every ad' }).click()
    await page.getByLabel('Budget of Folds flat').selectOption({ label: 'cut' })
    await expect(plan(page)).toContainText(/1 ad spends otherwise/)
    await plan(page).getByLabel('Money that is cut').selectOption({ label: 'what is cut goes to the others' })
    await expect(plan(page)).toContainText(/\d+ ads spend otherwise/)
    await plan(page).getByRole('button', { name: 'Empty the plan' }).click()
    await expect(plan(page)).toContainText('nothing is changed yet')
  })

  test('columns are chosen by aim, rows by figures, and both stand in the address', async ({
    page,
    context,
  }) => {
    await openWeigh(page, app)
    await page.getByLabel('Columns for').selectOption({ label: 'for being seen' })
    await expect(page.getByRole('columnheader', { name: 'frequency' })).toBeVisible()
    await expect(page.getByRole('columnheader', { name: 'CPM' })).toBeVisible()
    const frequency = weighed(page).getByRole('row', { name: /Autumn kits/ })
    await expect(frequency).toContainText(/\d\.\d\d %/)
    await page.getByRole('button', { name: 'Figures' }).click()
    const dialog = page.getByRole('dialog', { name: 'Rows by their figures' })
    await dialog.getByLabel('Figure 1').selectOption('spend')
    await dialog.getByLabel('How much 1').fill('3000')
    await dialog.getByRole('button', { name: 'Show these rows' }).click()
    await expect(page).toHaveURL(/where=spend/)
    const found = page.getByText(/^\d+ of \d+ rows$/)
    await expect(found).toBeVisible()
    const said = await found.innerText()
    const other = await context.newPage()
    await other.goto(page.url())
    await expect(other.getByText(said)).toBeVisible()
    await expect(other.getByRole('columnheader', { name: 'CPM' })).toBeVisible()
    await other.close()
    // One's own set of columns.
    await page.getByRole('button', { name: 'Keep columns' }).click()
    await page.getByLabel('Name of these columns').fill('Monday')
    await page.getByRole('button', { name: 'Keep them' }).click()
    await expect(page.getByLabel('Columns for')).toHaveValue('own.Monday')
    // What the networks call their conversions.
    await page.getByLabel('Columns for').selectOption({ label: 'for the networks’ word beside ours' })
    await expect(page.getByRole('columnheader', { name: 'claimed as purchase' })).toBeVisible()
    await page.getByLabel('Steps of').selectOption({ index: 1 })
    await expect(page.getByRole('columnheader', { name: /^cost of / }).first()).toBeVisible()
    // Back returns to the columns before, and stays on the screen.
    await page.goBack()
    await expect(page.getByRole('columnheader', { name: /^cost of / })).toHaveCount(0)
    await page.goBack()
    await expect(page.getByLabel('Columns for')).toHaveValue('own.Monday')
  })

  test('plain rules are tried on the past, and a campaign gets a line of its own', async ({ page }) => {
    await openWeigh(page, app, `?to=${daysAgo(10)}`)
    await page.getByRole('button', { name: 'When to cut, when to raise' }).click()
    const rules = page.getByRole('region', { name: 'When to cut, when to raise' })
    await rules.getByRole('button', { name: 'Add it' }).click()
    await expect(rules).toContainText('no result after 3 × its line')
    await rules.getByLabel('Lines of rule 1').fill('0.5')
    await expect(rules.getByRole('status')).toContainText(/They would have cut (\d+ ads?|nothing) last month/)
    await rules.getByRole('button', { name: 'Close' }).click()
    await rules.getByRole('button', { name: 'Leave it' }).click()

    await page.getByRole('button', { name: 'Autumn kits: raise. Why?' }).click()
    await why(page).getByRole('button', { name: 'Margin and target …' }).click()
    const line = page.getByRole('region', { name: 'The line of Autumn kits' })
    await line.getByLabel('A result may cost').fill('20')
    await expect(line).toContainText(/Campaigns above break-even\d+ of \d+ → \d+ of \d+/)
    await line.getByRole('button', { name: 'Keep it' }).click()
    await expect(page.getByRole('button', { name: 'Autumn kits: cut. Why?' })).toBeVisible()
    await page.keyboard.press('u')
    await expect(page.getByRole('button', { name: 'Autumn kits: raise. Why?' })).toBeVisible()
  })

  test('pages are weighed, and a split is shifted in one step', async ({ page }) => {
    await page.goto(`${app.origin}/weigh/pages?from=${daysAgo(60)}&to=${daysAgo(10)}`)
    const split = page.getByRole('region', { name: /^Split of guild/ })
    await expect(split).toContainText(/leads and is the better one \d+ % likely|brings most/)
    const sides = split.getByRole('row', { name: /\/(kits|floor-looms)/ })
    await expect(sides).toHaveCount(2)
    await split.getByRole('button', { name: /^Lead / }).click()
    await expect(page.getByText(/^(More|All of it) goes to the/)).toBeVisible()
    await expect(split).toContainText(/75 %|100 %/)
    await page.keyboard.press('u')
    await expect(split.getByText('50 %')).toHaveCount(2)
    const arrivals = page.getByRole('table', { name: 'Landing pages' }).getByRole('row', { name: /kits/ })
    await expect(arrivals.first()).toBeVisible()
    // Who bought a course went on to its offer.
    await page.goto(`${app.origin}/weigh/pages?from=${daysAgo(60)}&to=${daysAgo(10)}&result=course`)
    await expect(
      page.getByRole('table', { name: 'Offers' }).getByRole('row', { name: /offer\/course/ }),
    ).toContainText(/\d/)
  })
})

test.describe('by keyboard alone', () => {
  const app = demoFor()

  test('from what is over its line to what came of it', async ({ page }) => {
    const press = (key: string) => page.keyboard.press(key)
    /** Goes on with Tab until something of this name has the focus. */
    const tabTo = async (name: RegExp | string) => {
      const focused = () =>
        page.evaluate(() => {
          const at = document.activeElement as HTMLElement | null
          return (
            at?.ariaLabel ?? at?.innerText ?? (at as HTMLInputElement | null)?.labels?.[0]?.innerText ?? ''
          )
        })
      const labelled = () =>
        page.evaluate(() => (document.activeElement as HTMLInputElement | null)?.labels?.[0]?.innerText ?? '')
      const fits = (text: string) => (typeof name === 'string' ? text.trim() === name : name.test(text))
      for (let i = 0; i < 120; i++) {
        if (fits(await focused()) || fits(await labelled())) return
        await press('Tab')
      }
      throw new Error(`Tab never comes to ${name}`)
    }
    const here = page.locator('tr[data-here]')
    /** Goes down to the row of this name; what is below the rows on the way is opened. */
    const downTo = async (name: string) => {
      for (let i = 0; i < 40; i++) {
        if (await here.getByRole('rowheader', { name, exact: false }).count()) return
        await press('l')
        await press('j')
      }
      throw new Error(`There is no row ${name}`)
    }
    await openWeigh(page, app, '?network=mothwire&show=over')
    await downTo('Folds flat')
    await press('Enter')
    await expect(why(page)).toContainText('likely to pay back')
    await press('Escape')
    await expect(why(page)).toHaveCount(0)
    await page.goto(`${app.origin}/weigh?network=mothwire`)
    await expect(page.getByText(/^\d+ rows$/)).toBeVisible()
    for (const name of ['Folds flat', 'No room for a loom?', 'Thread by thread']) {
      await downTo(name)
      await press('x')
    }
    await expect(page.getByRole('group', { name: 'With those marked' })).toContainText('3 marked')
    await tabTo('Cut')
    await press('Enter')
    await downTo('First Warp booklet')
    await press('x')
    await tabTo('20 % more')
    await press('Enter')
    await expect(plan(page)).toContainText(/then [\d.,]+ over break-even/)
    await tabTo('Make these moves …')
    await press('Enter')
    await expect(page.getByRole('dialog', { name: 'Make these moves' })).toBeVisible()
    await tabTo('Who decides')
    await page.keyboard.type('Rui')
    await tabTo('Keep as moves')
    await press('Enter')
    await expect(page).toHaveURL(/\/weigh\/moves/)
    await expect(page.getByRole('region', { name: /^Decided / })).toContainText('Rui')
    await tabTo('Apply at Mothwire')
    await press('Enter')
    await expect(page.getByText(/^told /)).toBeVisible()
    await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur())
    await tabTo('Let the practice market go on for a week')
    await press('Enter')
    await expect(heading(page)).toContainText(/orders were foreseen, and [\d.]+ came/, { timeout: 120_000 })
  })
})
