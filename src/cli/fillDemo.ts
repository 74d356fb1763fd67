import { join } from 'node:path'
import { partnerSchema } from '@/core/intake/postback'
import { chooseBranch } from '@/core/intake/routing'
import { settingsSchema } from '@/core/intake/settings'
import { shippedProfiles } from '@/core/links/profiles'
import { formatDay, parseDay, startOfDay } from '@/core/shared/days'
import type { Database } from '@/data/connect'
import { events } from '@/data/schema'
import { insertRows } from '@/data/store'
import { createWorkspace, findWorkspace, type Route, saveRoute } from '@/data/workspace'
import { writeCsv } from '@/formats/csv'
import { dataFolder } from '@/formats/dataFolder'
import { writeFolder } from '@/formats/folder'
import { simulateBrowsing } from '@/practice/market/browsing'
import { MARKET_ZONE, openMarket } from '@/practice/market/simulate'
import { simulateSmaller } from '@/practice/market/smaller'
import { importFile } from '@/server/import/importFile'
import { keepPartner } from '@/server/partners'
import { practiceOrigin } from '@/server/practice'
import { WORKSPACE } from '@/server/workspace'
import { fillLibrary, visitRows } from './fillLibrary'
import { fillLinks, withFormerName, withLandingPages } from './fillLinks'
import { demoRules, fillSignals, relayedSlots } from './fillSignals'
import { fillHops, fillPostbacks, fillRelays, fillSetAside } from './fillStory'

/** Where ads of the demo may lead to. */
const hosts = ['shop.tarnbrook.localhost', 'corvane.localhost', 'tarnbrook.example']
const DEMO_SEED = 11
const SMALLER_SEED = 23
const DEMO_DAYS = 75
/** The days of the market's story on which thank-you pages are reloaded. */
const RELOADED = { after: 30, days: 4 }

/** The partner network through which the weaving course is sold. */
const corvane = partnerSchema.parse({
  id: 'corvane',
  name: 'Corvane',
  result: 'course',
  currency: 'EUR',
  click_parameter: 'p1',
  parameters: { click: 'p1', deal: 'deal', amount: 'amount', currency: 'cur', status: 'state' },
  macros: { click: '#p1#', deal: '#deal#', amount: '#amount#', currency: '#cur#', status: '#state#' },
  sub_ids: { p2: '#p2#' },
  statuses: { approved: ['ok'], pending: ['open'], reversed: ['void'] },
})

/** Whether a claim comes in a list. One network gives one; the others sum theirs by day and ad, as most do. */
const listed = ({ network }: { network?: string | number }) => network === 'kelpie'

/** Where codes lead: the course over two pages to an offer, a page against another, and one that has no other. */
const routes = (shop: string): Omit<Route, 'workspace' | 'paused'>[] => [
  {
    code: 'course',
    network: 'norrfeed',
    landings: [
      { address: `${practiceOrigin('shop.tarnbrook')}/course`, weight: 2 },
      { address: `${practiceOrigin('shop.tarnbrook')}/course?begin=price`, weight: 1 },
    ],
    offers: [{ address: `${practiceOrigin('corvane')}/offer/course`, weight: 1, click_parameter: 'p1' }],
  },
  {
    code: 'guild',
    network: 'guildpost',
    landings: [
      { address: shop, weight: 1 },
      { address: `${practiceOrigin('shop.tarnbrook')}/floor-looms`, weight: 1 },
    ],
    offers: [],
  },
  { code: 'why', network: 'whyfold', landings: [{ address: shop, weight: 1 }], offers: [] },
]

/** Clicks of the trade network come by their code, which shares them out between two pages. */
function splitGuild(click: Record<string, string | number>): Record<string, string | number> {
  if (click.network !== 'guildpost') return click
  const shop = `${practiceOrigin('shop.tarnbrook')}/kits`
  const pages = [shop, `${practiceOrigin('shop.tarnbrook')}/floor-looms`]
  const side = chooseBranch(
    pages.map(address => ({ address, weight: 1 })),
    'guild',
    String(click.visitor_id),
  )
  return { ...click, code: 'guild', landing_url: String(click.landing_url).replace(shop, pages[side]!) }
}

const columnsOf = (rows: readonly Record<string, unknown>[]) => [...new Set(rows.flatMap(Object.keys))]

/** Fills the demo: Tarnbrook Looms' 75 days up to yesterday. Does nothing when it is there already. */
export async function fillDemo(database: Database, today: string): Promise<void> {
  if (await findWorkspace(database, WORKSPACE)) return
  const end = parseDay(today)! - 1
  const { market, goOn } = openMarket({ seed: DEMO_SEED, days: DEMO_DAYS, scale: 1, end })
  const settings = settingsSchema.parse({ ...market.settings, hosts })
  await database.transaction(async transaction => {
    await createWorkspace(transaction, WORKSPACE, 'Tarnbrook Looms', settings, shippedProfiles)
  })
  const workspace = (await findWorkspace(database, WORKSPACE))!
  // What the shop and the tracking domain have seen of today; networks report it tomorrow.
  const filled = Date.now()
  const begun = goOn()
  const now = {
    clicks: begun.clicks.filter(c => Date.parse(String(c.clicked_at)) < filled),
    orders: begun.orders.filter(o => Date.parse(String(o.ordered_at)) < filled),
  }
  const shop = `${practiceOrigin('shop.tarnbrook')}/kits`
  const smaller = simulateSmaller(
    { seed: SMALLER_SEED, days: DEMO_DAYS, end: parseDay(today)! - 1 },
    market.clicks,
    shop,
  )
  const clicks = withLandingPages([...market.clicks, ...now.clicks], market.delivery, Date.now())
  const orders = [...market.orders, ...now.orders]
  const files = {
    delivery: [...withFormerName(market.delivery, today), ...smaller.delivery],
    clicks: [...clicks, ...smaller.clicks.map(splitGuild)],
    orders: [...orders, ...smaller.orders],
    'claim-rows': market.claimRows.filter(listed),
    claims: [...market.claims.filter(claim => !listed(claim)), ...smaller.claims],
  }
  for (const [kind, rows] of Object.entries(files) as [keyof typeof files, Record<string, unknown>[]][])
    await importFile(database, workspace, kind, writeCsv(columnsOf(rows), rows))

  for (const [kind, rows] of Object.entries(visitRows(Date.now())) as [
    'clicks' | 'orders',
    Record<string, unknown>[],
  ][])
    await importFile(database, workspace, kind, writeCsv(Object.keys(rows[0] ?? {}), rows), {
      file: `${kind} of placements.csv`,
    })

  const first = parseDay(today)! - DEMO_DAYS
  const shown = { delivery: market.delivery, clicks, orders }
  const browsing = simulateBrowsing(shown, DEMO_SEED, practiceOrigin('shop.tarnbrook'), demoRules, {
    from: startOfDay(first + RELOADED.after, MARKET_ZONE),
    to: startOfDay(first + RELOADED.after + RELOADED.days, MARKET_ZONE),
  })
  const told = browsing.filter(event => event.at < Date.now())
  await insertRows(database, events, told, ({ rule, at, ...event }) => ({
    workspace: WORKSPACE,
    day: new Date(at).toISOString().slice(0, 10),
    at: new Date(at).toISOString(),
    attributes: rule ? { rule } : {},
    ...event,
  }))

  await fillLinks(database, WORKSPACE, shop, today)
  await fillLibrary(database, workspace, shop, Date.now())
  await keepPartner(database, WORKSPACE, corvane, 'secret')
  await fillPostbacks(database, WORKSPACE, smaller.postbacks)
  await fillHops(database, WORKSPACE, smaller.postbacks, market.clicks, practiceOrigin('corvane'))
  await fillSignals(database, WORKSPACE, Date.now())
  await fillRelays(database, WORKSPACE, relayedSlots, orders, clicks, Date.now())
  for (const route of routes(shop))
    await saveRoute(database, { workspace: WORKSPACE, paused: false, ...route })
  await fillSetAside(database, workspace, Date.now())
  // What the practice networks report when they are asked.
  writeFolder(
    join(dataFolder(), 'practice', 'market'),
    {
      'delivery.csv': [...market.delivery, ...smaller.delivery.map(({ source: _, ...row }) => row)],
      'claims.csv': [...market.claims, ...smaller.claims],
    },
    {},
  )
  writeFolder(join(dataFolder(), 'practice'), {}, { 'clock.json': { end: formatDay(end), told: filled } })
}
