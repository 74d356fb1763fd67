import { createHash, randomBytes } from 'node:crypto'
import { renameSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { type Offer, type PlacedNetwork, type Routing, routingSchema } from '@/core/intake/routing'
import { settingsSchema } from '@/core/intake/settings'
import { assembleLink } from '@/core/links/assemble'
import { profileSchema } from '@/core/links/profile'
import { fillCode } from '@/core/signals/fillCode'
import { usualWorth } from '@/core/signals/result'
import type { Database, Executor } from '@/data/connect'
import { listPartners, listSites, siteKey } from '@/data/intake'
import { runningTests } from '@/data/liveTests'
import { listDefinitions, listRules, listSlots } from '@/data/signals'
import {
  addRoutes,
  findWorkspace,
  listEntities,
  listProfiles,
  listRoutes,
  type Route,
  saveRoute,
  saveSettings,
  type Workspace,
} from '@/data/workspace'
import { dataFolder } from '@/formats/dataFolder'

export const trackingOrigin = (): string =>
  process.env.TRACKING_ORIGIN ?? `http://localhost:${process.env.COLLECTOR_PORT ?? 4610}`

/** The code of the tracking domain that leads a network's clicks to a landing page. */
const codeOf = (network: string, page: string) =>
  `${network.slice(0, 2)}${createHash('sha256').update(page).digest('hex').slice(0, 6)}`
export const trackingAddress = (network: string, page: string): string =>
  `${trackingOrigin()}/c/${codeOf(network, page)}`

/** A landing page as a click should find it: its slips mended, as the station says them. */
const mendAddress = (page: string): string => {
  const nothing = { id: 'none', name: 'none', dialect: {} }
  return assembleLink({ profile: profileSchema.parse(nothing), destination: page, plan: {} }).address || page
}

/** A code that nobody can guess. */
export const mintCode = (): string => randomBytes(9).toString('base64url')

export const siteKeyOf = (database: Executor, workspace: string): Promise<string> =>
  siteKey(database, workspace, mintCode)

/** Gives every landing page its code, and writes the routing table by which the collector answers. */
export async function publishRoutes(
  database: Database,
  workspace: string,
  folder = dataFolder(),
): Promise<void> {
  const entities = await listEntities(database, workspace)
  const pages = new Map(
    entities.flatMap(({ network, landingPage }) =>
      landingPage ? [[codeOf(network, landingPage), { network, landingPage }] as const] : [],
    ),
  )
  await addRoutes(
    database,
    [...pages].map(([code, { network, landingPage }]) => ({
      workspace,
      code,
      network,
      landings: [{ address: mendAddress(landingPage), weight: 1 }],
    })),
  )
  await siteKeyOf(database, workspace)
  const rules = await listRules(database)
  const tests = await runningTests(database)
  const sites = await Promise.all(
    (await listSites(database)).map(
      async ({ key, workspace: of }) =>
        [
          key,
          {
            workspace: of,
            rules: rules.filter(r => r.workspace === of),
            networks: await placedNetworks(database, of),
            tests: tests.filter(t => t.workspace === of).map(t => t.token),
          },
        ] as const,
    ),
  )
  const routing: Routing = routingSchema.parse({
    version: 2,
    codes: Object.fromEntries((await listRoutes(database)).map(({ code, ...route }) => [code, route])),
    partners: Object.fromEntries(
      (await listPartners(database)).map(p => [
        p.code,
        { workspace: p.workspace, partner: p.id, secret: p.secret },
      ]),
    ),
    sites: Object.fromEntries(sites),
    fallback: (await findWorkspace(database, workspace))?.settings.fallback_address ?? null,
  })
  const file = join(folder, 'routing.json')
  writeFileSync(`${file}.new`, JSON.stringify(routing), { flush: true })
  renameSync(`${file}.new`, file)
}

/** The networks' codes that our tag places, each with the results that it hears of. */
async function placedNetworks(database: Executor, workspace: string): Promise<PlacedNetwork[]> {
  const [slots, definitions] = [
    await listSlots(database, workspace),
    (await listDefinitions(database, workspace)).filter(d => !d.archived),
  ]
  return (await listProfiles(database, workspace)).flatMap(({ id, tag, account, placed_by }) => {
    if (!tag || !account || placed_by !== 'tag') return []
    const own = definitions.flatMap(definition => {
      const slot = slots.find(s => s.network === id && s.result === definition.id)?.slot
      return slot ? [[definition.id, { slot, ...usualWorth(definition) }] as const] : []
    })
    const event = tag.event.replaceAll('{account}', account)
    return [{ id, base: fillCode(tag.base, { account }), event, slots: Object.fromEntries(own) }]
  })
}

/** Keeps a route, under a new code where it names none. Gives what is wrong, or null when it is done. */
export async function keepRoute(database: Database, route: Route): Promise<string | null> {
  const code = route.code || mintCode()
  if (!/^[A-Za-z0-9_-]{1,64}$/.test(code)) return 'A code is letters, digits, - and _, at most 64 of them.'
  const taken = (await listRoutes(database)).find(r => r.code === code)
  if (taken && taken.workspace !== route.workspace) return `The code ${code} is taken. Choose another.`
  await saveRoute(database, { ...route, code })
  await publishRoutes(database, route.workspace)
  return null
}

/** Keeps where clicks on unknown or paused codes go; empty for a page that says so. */
export async function keepFallback(
  database: Database,
  workspace: Workspace,
  address: string,
): Promise<string | null> {
  const { fallback_address: _, ...settings } = workspace.settings
  const read = settingsSchema.safeParse(address ? { ...settings, fallback_address: address } : settings)
  if (!read.success) return 'Write the whole address, with https://.'
  await saveSettings(database, workspace.id, read.data)
  await publishRoutes(database, workspace.id)
  return null
}

/** Adds an offer to those that a route leads on to. */
export async function addOffer(
  database: Database,
  workspace: string,
  code: string,
  offer: Offer,
): Promise<string | null> {
  const route = (await listRoutes(database)).find(r => r.workspace === workspace && r.code === code)
  if (!route) return `There is no code ${code}.`
  return keepRoute(database, { ...route, offers: [...route.offers, offer] })
}
