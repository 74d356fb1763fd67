import AxeBuilder from '@axe-core/playwright'
import { demoFor } from './application'
import { expect, type Page, test } from './test'

const app = demoFor({ AEQUANT_GALLERY: 'yes' })
/** Each screen with its title, and what of period and network it heeds. */
const screens: [path: string, title: string, heeds?: 'both' | 'network'][] = [
  ['/begin', 'Begin'],
  ['/results', 'Results'],
  ['/results/journey', 'Journey', 'both'],
  ['/signals', 'Rules'],
  ['/signals/networks', 'Networks'],
  ['/signals/hand-off', 'Hand-off'],
  ['/signals/check', 'Page check'],
  ['/signals/live-test', 'Live test'],
  ['/links', 'Links', 'network'],
  ['/links/arrivals', 'What arrives', 'network'],
  ['/links/library', 'Library', 'both'],
  ['/links/sources', 'Sources', 'both'],
  ['/links/names', 'Names', 'network'],
  ['/links/profiles', 'Profiles'],
  ['/intake', 'Intake'],
  ['/intake/set-aside', 'Set aside'],
  ['/intake/routes', 'Routes'],
  ['/intake/partners', 'Partners'],
  ['/intake/shop', 'Shop export'],
  ['/intake/reports', 'Reports'],
  ['/intake/import', 'Import files'],
  ['/intake/orders', 'Order'],
  ['/reconcile', 'Reconcile', 'both'],
  ['/reconcile/changed', 'What changed', 'both'],
  ['/reconcile/bench', 'Matching bench', 'both'],
  ['/reconcile/rules', 'Rules beside', 'both'],
  ['/reconcile/client', 'Client’s page', 'both'],
  ['/weigh', 'Weigh', 'both'],
  ['/weigh/moves', 'Moves', 'both'],
  ['/weigh/trend', 'History', 'both'],
  ['/weigh/pages', 'Pages and offers', 'both'],
  ['/settings', 'Settings'],
  ['/settings/networks', 'Own networks'],
  ['/settings/tracking', 'Tracking domain'],
  ['/settings/data', 'Data', 'both'],
  ['/gallery', 'Gallery'],
]

/** What is wrong with a page whatever it shows; what moved once it was seen is a fault as well. */
const faultsOf = (page: Page) =>
  page.evaluate(() => ({
    blocks: document.querySelectorAll('button :is(div, p, table, ul, h1, h2)').length,
    heads: [...document.querySelectorAll('th, [role=columnheader]')].filter(
      th => !th.textContent?.trim() && !th.getAttribute('aria-label'),
    ).length,
    unexplained: [...document.querySelectorAll<HTMLElement>('th button')].flatMap(button =>
      button.title.startsWith('Sorts by') ? [button.innerText] : [],
    ),
    drawings: [...document.querySelectorAll('canvas')].filter(
      c => !c.getAttribute('aria-label') && !c.closest('[aria-hidden=true]'),
    ).length,
    jumps: (window as never as { seen: { shift: number } }).seen.shift > 0.1,
  }))

/** Controls that cannot be brought into sight. */
const lostControls = (page: Page) =>
  page.evaluate(() => {
    const controls = document.querySelectorAll<HTMLElement>(
      'button, a[href], select, textarea, input:not([type=hidden], [type=file], [data-part=hidden-input])',
    )
    return [...controls].flatMap(control => {
      if (!control.checkVisibility() || control.closest('[aria-hidden=true], [data-scope=checkbox]'))
        return []
      control.scrollIntoView({ block: 'center', inline: 'center' })
      const { left, right, top, bottom } = control.getBoundingClientRect()
      const [x, y] = [(left + right) / 2, (top + bottom) / 2]
      const inside = x >= 0 && x <= innerWidth && y >= 0 && y <= innerHeight
      return inside ? [] : [(control.innerText || control.ariaLabel || control.outerHTML).slice(0, 60)]
    })
  })

/** What axe finds, with a word on the colours that were looked at. */
async function unfitFor(page: Page, colours: string, rules?: string[]): Promise<string[]> {
  const axe = new AxeBuilder({ page })
  if (rules) axe.withRules(rules)
  const { violations } = await axe.analyze()
  return violations.map(v => `${colours}: ${v.id} ${v.nodes[0]?.html.slice(0, 160)}`)
}

for (const [path, title, heeds] of screens)
  test(`${title} stands still, complains of nothing, can be used by everybody, and loses no control when small`, async ({
    page,
  }) => {
    await page.addInitScript(() => {
      const seen = { shift: 0 }
      Object.assign(window, { seen })
      new PerformanceObserver(list => {
        for (const entry of list.getEntries() as (PerformanceEntry & { value: number })[])
          seen.shift += entry.value
      }).observe({ type: 'layout-shift', buffered: true })
    })
    const complaints: string[] = []
    page.on('console', message => message.type() === 'error' && complaints.push(message.text()))
    page.on('pageerror', error => complaints.push(error.message))
    const { arrivals } = await (await page.request.get(`${app.origin}/api/arrivals?kind=order`)).json()
    const answer = await page.goto(
      app.origin + (path === '/intake/orders' ? `${path}/${arrivals[0].id}` : path),
    )
    await expect(page.getByRole('heading', { level: 1 }).first()).toBeVisible()
    await expect(page).toHaveTitle(new RegExp(`${title}.* · Aequant`))
    await page.evaluate(() => document.fonts.ready)
    const policy = answer?.headers()['content-security-policy'] ?? ''
    expect([/'nonce-[\w=+/]+'/.test(policy), policy.includes('unsafe-eval')]).toEqual([true, false])
    if (path !== '/gallery') {
      const bar = page.getByRole('banner')
      const offered = [
        await bar.getByRole('button', { name: /^Days/ }).count(),
        await bar.getByLabel('Network').count(),
      ]
      expect(offered).toEqual([heeds === 'both' ? 1 : 0, heeds ? 1 : 0])
    }
    if (path !== '/gallery')
      expect(await faultsOf(page)).toEqual({
        blocks: 0,
        heads: 0,
        unexplained: [],
        drawings: 0,
        jumps: false,
      })
    if (path === '/weigh') await page.getByRole('button', { name: /orders: show the evidence/ }).click()
    const found = await unfitFor(page, 'light')
    await page.emulateMedia({ colorScheme: 'dark' })
    await expect(page.locator('html')).toHaveClass(/dark/)
    // What is not a matter of colour is the same in both.
    found.push(...(await unfitFor(page, 'dark', ['color-contrast'])))
    for (const [width, height] of [
      [1024, 700],
      [640, 400],
    ] as const) {
      await page.setViewportSize({ width, height })
      for (const control of await lostControls(page)) found.push(`lost at ${width} × ${height}: ${control}`)
    }
    expect([...found, ...complaints]).toEqual([])
  })
