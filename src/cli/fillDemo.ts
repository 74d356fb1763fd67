import { join } from 'node:path'
import { partnerSchema } from '@/core/intake/postback'
import { settingsSchema } from '@/core/intake/settings'
import { shippedProfiles } from '@/core/links/profiles'
import { parseDay } from '@/core/shared/days'
import type { Database } from '@/data/connect'
import { createWorkspace, findWorkspace, savePlan, saveRoute, setLandingPages } from '@/data/workspace'
import { writeCsv } from '@/formats/csv'
import { dataFolder } from '@/formats/dataFolder'
import { writeFolder } from '@/formats/folder'
import { simulateMarket } from '@/practice/market/simulate'
import { importFile } from '@/server/import/importFile'
import { keepPartner } from '@/server/partners'
import { practiceOrigin } from '@/server/practice'
import { WORKSPACE } from '@/server/workspace'
import { fillSignals } from './fillSignals'

const DEMO_SEED = 11
const DEMO_DAYS = 75

/** What each network's account adds to every ad's address. */
const plans = {
  norrfeed: {
    utm_source: 'norrfeed',
    utm_medium: 'paid-social',
    utm_campaign: '{campaign.name}',
    utm_term: '{ad_set.name}',
    utm_content: '{ad.id}',
    spot: '{placement}',
  },
  kelpie: {
    utm_source: 'kelpie',
    utm_medium: 'paid-search',
    utm_campaign: '{campaign.id}',
    utm_term: '{keyword}',
    utm_content: '{ad.id}',
  },
  mothwire: {
    utm_source: 'mothwire',
    utm_medium: 'paid-social',
    utm_campaign: '{campaign.name}',
    utm_content: '{ad.id}',
  },
}

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

/** Fills the demo: Tarnbrook Looms' 75 days up to yesterday. Does nothing when it is there already. */
export async function fillDemo(database: Database, today: string): Promise<void> {
  if (await findWorkspace(database, WORKSPACE)) return
  const market = simulateMarket({ seed: DEMO_SEED, days: DEMO_DAYS, scale: 1, end: parseDay(today)! - 1 })
  const settings = settingsSchema.parse(market.settings)
  await database.transaction(async transaction => {
    await createWorkspace(transaction, WORKSPACE, 'Tarnbrook Looms', settings, shippedProfiles)
  })
  const workspace = (await findWorkspace(database, WORKSPACE))!
  const files = {
    delivery: market.delivery,
    clicks: market.clicks,
    orders: market.orders,
    'claim-rows': market.claimRows,
  }
  for (const [kind, rows] of Object.entries(files) as [keyof typeof files, Record<string, unknown>[]][])
    await importFile(database, workspace, kind, writeCsv(Object.keys(rows[0] ?? {}), rows))

  for (const [network, parameters] of Object.entries(plans))
    await savePlan(database, WORKSPACE, { network, level: 'account', scope: '' }, parameters)
  const shop = `${practiceOrigin('shop.tarnbrook')}/kits`
  for (const network of Object.keys(plans)) await setLandingPages(database, WORKSPACE, network, () => shop)
  await keepPartner(database, WORKSPACE, corvane, 'secret')
  await fillSignals(database, WORKSPACE, Date.now())
  await saveRoute(database, {
    workspace: WORKSPACE,
    code: 'course',
    network: 'norrfeed',
    landings: [{ address: `${practiceOrigin('shop.tarnbrook')}/course`, weight: 1 }],
    offers: [{ address: `${practiceOrigin('corvane')}/offer/course`, weight: 1, click_parameter: 'p1' }],
    paused: false,
  })
  for (const [code, network] of Object.entries({ guild: 'guildpost', why: 'whyfold' }))
    await saveRoute(database, {
      workspace: WORKSPACE,
      code,
      network,
      landings: [{ address: shop, weight: 1 }],
      offers: [],
      paused: false,
    })
  // What the practice networks report when they are asked.
  writeFolder(
    join(dataFolder(), 'practice', 'market'),
    { 'delivery.csv': market.delivery, 'claims.csv': market.claims },
    {},
  )
}
