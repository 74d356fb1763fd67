import { type Browser, chromium, type Page } from '@playwright/test'
import type { Measure } from './measure'
import { median } from './median'

const ROUNDS = 5

/** Milliseconds in the page from a deed until the frame in which its outcome is drawn. */
const until = (page: Page, act: string, holds: string): Promise<number> =>
  page.evaluate(
    async ([act, holds]) => {
      const [deed, done] = [new Function(act!), new Function(`return ${holds}`)]
      const began = performance.now()
      deed()
      while (!done()) {
        if (performance.now() - began > 20_000) throw new Error(`never: ${holds}`)
        await new Promise(next => setTimeout(next, 5))
      }
      await new Promise(frame => requestAnimationFrame(frame))
      return performance.now() - began
    },
    [act, holds],
  )

const typed = (label: string, value: string) =>
  `const f = document.querySelector('[aria-label="${label}"]'); f.focus();
  Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set.call(f, ${JSON.stringify(value)});
  f.dispatchEvent(new Event('input', { bubbles: true }))`
const tree = `document.querySelector('[aria-label="Campaigns, ad sets and ads"]')`

/** The same browser fetching, parsing and drawing what the station gets, as plain lines. */
async function plainLines(browser: Browser, origin: string): Promise<number> {
  const page = await browser.newPage()
  await page.goto(`${origin}/api/health`)
  const took = await until(
    page,
    `fetch('/api/links').then(r => r.json()).then(all => {
      const list = document.createElement('pre')
      list.textContent = Object.values(all).flat().map(one => JSON.stringify(one)).join('\\n')
      document.body.replaceChildren(list)
    })`,
    `document.querySelector('pre')?.textContent.includes('a9999')`,
  )
  await page.close()
  return took
}

/** Opening Links, narrowing it and changing all of it, in a browser, from the deed to the drawn screen. */
export async function benchStation(origin: string, ads: number): Promise<Measure[]> {
  const all = ads.toLocaleString('en-GB')
  const browser = await chromium.launch({
    executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu'],
  })
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
    const taken: Record<string, number[]> = { first: [], open: [], filter: [], bulk: [], plain: [] }
    const note = (name: string, ms: number, round: number) => round > 0 && taken[name]!.push(ms)
    await page.goto(`${origin}/intake/import`)
    for (let round = 0; round <= ROUNDS; round++) {
      await page.waitForLoadState('networkidle')
      note('plain', await plainLines(browser, origin), round)
      await page.locator('nav[aria-label="Stations"] a[href^="/links"]').focus()
      const opened = `/Ad number/.test(${tree}?.textContent)`
      const open = await until(page, 'document.activeElement.click()', opened)
      // Once the page is loaded, and again when it was left.
      if (round === 0) taken.first!.push(open)
      note('open', open, round)
      await page
        .getByRole('button', { name: /untagged|tagged/ })
        .first()
        .waitFor()
      await page.waitForLoadState('networkidle')
      const some = `/111 ads/.test(document.body.textContent)`
      note('filter', await until(page, typed('Filter ads', 'number 77'), some), round)
      await page.getByLabel('Filter ads').fill('')
      await page.getByText(`${all} ads`, { exact: true }).waitFor()
      await page.getByLabel('all that are shown').check()
      await page.getByLabel('Level of the change').selectOption('ad')
      await page.getByLabel('Parameter', { exact: true }).fill('season')
      await page.getByLabel('New value, text').fill(`of round ${round}`)
      const change = page.getByRole('button', { name: /^Change [0-9,]+ ads?$/ })
      await change.focus()
      const changed = `/${all} changed/.test(document.body.textContent)`
      note('bulk', await until(page, 'document.activeElement.click()', changed), round)
      await page.waitForResponse(/links\/changes/)
      // Undone, so that each round opens what the first one did.
      const undone = page.waitForResponse(/links\/changes/)
      await page.getByRole('button', { name: /^Undo/ }).click()
      await undone
      await page.getByRole('button', { name: 'Unmark all' }).click()
      await page.getByRole('link', { name: 'Intake' }).click()
      await page.waitForURL(/intake/)
    }
    const plain = median(taken.plain!)
    return (['first', 'open', 'filter', 'bulk'] as const).map(name => ({
      name: `pages.station_${name}`,
      value: median(taken[name]!),
      unit: `ms in the browser at ${ads} ads`,
      against: 'the same browser fetching the same ads and drawing them as plain lines',
      ratio: median(taken[name]!) / plain,
    }))
  } finally {
    await browser.close()
  }
}
