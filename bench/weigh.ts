import { chromium } from '@playwright/test'
import type { Measure } from './measure'
import { median } from './median'

const ROUNDS = 5
const ROUTES = ['/results', '/signals', '/links', '/intake', '/reconcile', '/weigh']

/** Weigh in a browser, to its first figure and to every ad; and the script that each station's first page fetches. */
export async function benchWeigh(origin: string, ads: number): Promise<Measure[]> {
  const browser = await chromium.launch({
    executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu'],
  })
  try {
    const [figures, there, opened, plain]: [number[], number[], number[], number[]] = [[], [], [], []]
    const hands: Record<string, number[]> = {}
    for (let round = 0; round <= ROUNDS; round++) {
      const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
      const timed = async (work: () => Promise<unknown>) => {
        const began = performance.now()
        await work()
        return performance.now() - began
      }
      const other = await timed(() => page.goto(`${origin}/no-such-page`))
      const first = await timed(async () => {
        await page.goto(`${origin}/weigh`)
        await page.locator('button[aria-label$="show the evidence"]').nth(40).waitFor()
      })
      // Ads come after the first figures: until then the table says that they are on their way.
      const after = await timed(() => page.getByText(/^[\d,]+ rows$/).waitFor())
      const all = await timed(async () => {
        await page.getByRole('button', { name: 'Show every ad' }).click()
        await page.getByText(/^10,?520 rows/).waitFor()
      })
      const table = page.getByRole('table', { name: 'Campaigns, ad sets and ads' })
      // The browser times presses, not choices: what is chosen is chosen by keys.
      const steps: Record<string, () => Promise<unknown>> = {
        sort: async () => {
          await page.getByRole('columnheader', { name: 'spend' }).getByRole('button').click()
          await page
            .getByRole('columnheader', { name: 'spend', exact: false })
            .and(page.locator('[aria-sort]'))
            .waitFor()
        },
        filter: async () => {
          await page.getByLabel('Which rows').press('ArrowDown')
          await page.getByText(/^[\d,]+ of [\d,]+ rows/).waitFor()
        },
        mark: async () => {
          await table.getByRole('checkbox').nth(3).check()
          await page.getByText('1 marked').waitFor()
        },
        open: async () => {
          await page.getByRole('button', { name: /Why\?/ }).nth(2).click()
          await page.getByRole('complementary', { name: 'Why' }).waitFor()
        },
        plan: async () => {
          await page.getByRole('button', { name: 'Halve' }).click()
          await page.getByText(/ad spends otherwise|ads spend otherwise/).waitFor()
        },
        plan_again: async () => {
          await page
            .getByRole('combobox', { name: /^Budget of/ })
            .nth(5)
            .press('ArrowUp')
          await page.getByText(/[2-9]\d* ads spend otherwise|\d{2,} ads spend otherwise/).waitFor()
        },
      }
      await page.evaluate(() => {
        const seen: { at: number; ms: number }[] = []
        Object.assign(window, { seen })
        new PerformanceObserver(list => {
          for (const { startTime, duration } of list.getEntries()) seen.push({ at: startTime, ms: duration })
        }).observe({ type: 'event', durationThreshold: 16 } as PerformanceObserverInit)
      })
      for (const [name, step] of Object.entries(steps)) {
        const began = await page.evaluate(() => performance.now())
        await step()
        // The browser tells of an event once what it led to is painted.
        await page.evaluate(() => new Promise(done => setTimeout(done, 300)))
        const ms = await page.evaluate(
          from =>
            (window as unknown as { seen: { at: number; ms: number }[] }).seen
              .filter(one => one.at >= from)
              .reduce((most, one) => Math.max(most, one.ms), 16),
          began,
        )
        if (round > 0) (hands[name] ??= []).push(ms)
      }
      if (round > 0) {
        figures.push(first)
        there.push(first + after)
        opened.push(all)
        plain.push(other)
      }
      await page.close()
    }
    const against = 'the same browser opening a page that is not there, in the same shell'
    const measures: Measure[] = [
      {
        name: 'pages.weigh_figures',
        value: median(figures),
        unit: `ms in the browser at ${ads} ads`,
        against,
      },
      {
        name: 'pages.weigh_ads_there',
        value: median(there),
        unit: `ms in the browser at ${ads} ads`,
        against,
      },
      {
        name: 'pages.weigh_every_ad',
        value: median(opened),
        unit: `ms in the browser at ${ads} ads`,
        against,
      },
      ...Object.entries(hands).map(([name, times]) => ({
        name: `pages.weigh_${name}`,
        value: median(times),
        unit: `ms from the press to the picture, ${ads} ads shown`,
        against,
      })),
    ].map(measure => ({ ...measure, ratio: measure.value / median(plain) }))
    const sizes: number[] = []
    for (const path of ['/no-such-page', ...ROUTES]) {
      const context = await browser.newContext()
      const page = await context.newPage()
      const scripts: Promise<number>[] = []
      page.on('requestfinished', request => {
        if (request.resourceType() === 'script') scripts.push(request.sizes().then(s => s.responseBodySize))
      })
      await page.goto(`${origin}${path}`)
      await page.waitForLoadState('networkidle')
      sizes.push((await Promise.all(scripts)).reduce((sum, bytes) => sum + bytes, 0))
      await context.close()
    }
    const [shell = 1, ...own] = sizes
    return [
      ...measures,
      ...own.map((bytes, i) => ({
        name: `pages.script${ROUTES[i]!.replace('/', '_')}`,
        value: Math.round(bytes / 1024),
        unit: 'kB as sent',
        against: 'a page that is not there, in the same shell',
        ratio: bytes / shell,
      })),
    ]
  } finally {
    await browser.close()
  }
}
