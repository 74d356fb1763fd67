import { partnerSchema } from '@/core/intake/postback'
import { settingsSchema } from '@/core/intake/settings'
import { shippedProfiles } from '@/core/links/profiles'
import { parseDay } from '@/core/shared/days'
import type { Database } from '@/data/connect'
import { createWorkspace, findWorkspace, savePlan, setLandingPages } from '@/data/workspace'
import { writeCsv } from '@/formats/csv'
import { simulateMarket } from '@/practice/market/simulate'
import { importFile } from '@/server/importFile'
import { keepPartner } from '@/server/partners'
import { WORKSPACE } from '@/server/workspace'

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
  const shop = `http://shop.tarnbrook.localhost:${process.env.PRACTICE_PORT ?? 4620}/kits`
  for (const network of Object.keys(plans)) await setLandingPages(database, WORKSPACE, network, () => shop)
  await keepPartner(database, WORKSPACE, corvane, 'secret')
}
