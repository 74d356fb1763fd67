import { createHash, createHmac, randomBytes } from 'node:crypto'
import { renameSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import * as z from 'zod'
import {
  type Offer,
  type PlacedNetwork,
  type Routing,
  routeSchema,
  routingSchema,
} from '@/core/intake/routing'
import { settingsSchema } from '@/core/intake/settings'
import { assembleLink } from '@/core/links/assemble'
import { profileSchema } from '@/core/links/profile'
import { fillCode, fillKnown, partCode } from '@/core/signals/codePlaces'
import { usualWorth } from '@/core/signals/result'
import { type BadPattern, badPatterns } from '@/core/signals/rule'
import type { Database, Executor } from '@/data/connect'
import { keepSecret, listPartners, listSites, siteKey } from '@/data/intake'
import { runningTests } from '@/data/liveTests'
import { listDefinitions, listRules, listSlots } from '@/data/signals'
import {
  addRoutes,
  findWorkspace,
  listCodes,
  listEntities,
  listPlanVersions,
  listProfiles,
  listRoutes,
  type Route,
  raiseRouting,
  routingMark,
  saveRoute,
  saveSettings,
  type Workspace,
} from '@/data/workspace'
import { dataFolder } from '@/formats/dataFolder'
import { orderSecrets } from './orderWebhook'
import { noteFailure, noteSuccess } from './standing'
import { WORKSPACE } from './workspace'

export const trackingOrigin = (): string =>
  process.env.TRACKING_ORIGIN ?? `http://localhost:${process.env.COLLECTOR_PORT ?? 4610}`

/** Codes of before they could not be guessed: those that are at networks go on leading, new ones are none. */
const formerCode = (network: string, page: string) =>
  `${network.slice(0, 2)}${createHash('sha256').update(page).digest('hex').slice(0, 6)}`

const CODES_SECRET = 'codes'
const CODE_LENGTH = 14
/** The address of the tracking domain that leads a network's clicks to a landing page. */
export interface PageCodes {
  codeOf: (network: string, page: string) => string
  addressOf: (network: string, page: string) => string
}

/** The codes of a workspace's landing pages: always the same for a page, and told to nobody by the page. */
export async function pageCodes(database: Executor, workspace: string): Promise<PageCodes> {
  const key = await keepSecret(database, workspace, CODES_SECRET, mintCode)
  const known = new Set(await listCodes(database, workspace))
  const codeOf = (network: string, page: string) => {
    const former = formerCode(network, page)
    if (known.has(former)) return former
    const letters = network.replace(/[^A-Za-z0-9]/g, '').slice(0, 2)
    const digest = createHmac('sha256', key).update(`${network}\n${page}`).digest('base64url')
    return `${letters}${digest.slice(0, CODE_LENGTH)}`
  }
  return { codeOf, addressOf: (network, page) => `${trackingOrigin()}/c/${codeOf(network, page)}` }
}

/** A landing page as a click should find it: its slips mended, as the station says them. */
const mendAddress = (page: string): string => {
  const nothing = { id: 'none', name: 'none', dialect: {} }
  return assembleLink({ profile: profileSchema.parse(nothing), destination: page, plan: {} }).address || page
}

/** A code that nobody can guess. */
export const mintCode = (): string => randomBytes(9).toString('base64url')

const mintKey = (): string => randomBytes(24).toString('base64url')

export const siteKeyOf = (database: Executor, workspace: string): Promise<string> =>
  siteKey(database, workspace, mintCode)

/** Gives every landing page its code, and has every collector answer by what there is now. */
export async function publishRoutes(
  database: Database,
  workspace: string,
  folder = dataFolder(),
): Promise<void> {
  const { codeOf } = await pageCodes(database, workspace)
  const pages = new Map(
    (await listEntities(database, workspace)).flatMap(({ network, landingPage }) =>
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
  await raiseRouting(database, workspace)
  await writeRouting(database, folder)
}

/** A route that cannot be published, with what is wrong with it. */
export interface BrokenRoute {
  workspace: string
  code: string
  why: string
}

/** An entry of each key: that of whoever had it first. No index can say so across workspaces, which may stand apart. */
const firstOf = <Entry>(entries: readonly (readonly [string, Entry])[]): Record<string, Entry> =>
  Object.fromEntries([...entries].reverse())

/** The routes that collectors answer by; one that is wrong leads nowhere, and keeps no other from leading. */
function publishable(routes: readonly Route[]) {
  const codes: [string, Routing['codes'][string]][] = []
  const broken: BrokenRoute[] = []
  const given = new Set<string>()
  for (const { code, ...route } of routes) {
    const read = routeSchema.safeParse(route)
    if (given.has(code))
      broken.push({ workspace: route.workspace, code, why: 'Another workspace had it first.' })
    else if (read.success) codes.push([code, read.data])
    else broken.push({ workspace: route.workspace, code, why: z.prettifyError(read.error) })
    given.add(code)
  }
  return { codes: Object.fromEntries(codes), broken }
}

/** On the process: Next bundles pages and what starts with the server apart from each other. */
const held = globalThis as { aequantLeftOut?: { routes: BrokenRoute[]; tagRules: BadPattern[] } }
/** What was left out of the routing table when it was written last: routes that lead nowhere, tag rules that no browser can be given. */
export const unpublished = () => held.aequantLeftOut ?? { routes: [], tagRules: [] }

/** Writes the routing table by which the collector of a data folder answers. */
async function writeRouting(database: Database, folder: string): Promise<void> {
  const all = await listRules(database)
  const bad = all.flatMap(badPatterns)
  const rules = all.filter(rule => !bad.some(one => one.at.rule === rule.id))
  const { codes, broken } = publishable(await listRoutes(database))
  held.aequantLeftOut = { routes: broken, tagRules: bad }
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
            parameters: await adParameters(database, of),
            hosts: (await findWorkspace(database, of))?.settings.hosts ?? [],
            tests: tests.filter(t => t.workspace === of).map(t => t.token),
            order_secrets: await orderSecrets(database, of),
          },
        ] as const,
    ),
  )
  const routing: Routing = routingSchema.parse({
    version: 2,
    codes,
    partners: firstOf(
      (await listPartners(database)).map(p => [
        p.code,
        { workspace: p.workspace, partner: p.id, secret: p.secret },
      ]),
    ),
    sites: firstOf(sites),
    fallback: (await findWorkspace(database, WORKSPACE))?.settings.fallback_address ?? null,
    keys: {
      address: await keepSecret(database, WORKSPACE, 'address_classes', mintKey),
      status: await keepSecret(database, WORKSPACE, 'collector_status', mintKey),
    },
  })
  const file = join(folder, 'routing.json')
  const fresh = `${file}.${process.pid}`
  writeFileSync(fresh, JSON.stringify(routing), { flush: true, mode: 0o600 })
  renameSync(fresh, file)
}

/** The parameters by which ads of a workspace name themselves, now or before. */
async function adParameters(database: Executor, workspace: string): Promise<string[]> {
  const [plans, profiles] = [
    await listPlanVersions(database, workspace),
    await listProfiles(database, workspace),
  ]
  const keys = plans.flatMap(plan => Object.keys(plan.parameters))
  return [...new Set([...keys, ...profiles.flatMap(p => p.click_id_parameter ?? [])])].sort()
}

const LOOK_EVERY_MS = 300

/** Writes the routing table whenever another application on the same database has changed what stands in it. */
export async function publishForever(database: Database, folder: string): Promise<never> {
  let published = ''
  for (;;) {
    let pause = LOOK_EVERY_MS
    try {
      const mark = await routingMark(database)
      if (mark !== published) await writeRouting(database, folder)
      published = mark
      noteSuccess('routes')
    } catch (error) {
      pause = 2000
      noteFailure('routes', 'The routing table cannot be written; it is tried again.', error, Date.now())
    }
    await new Promise(next => setTimeout(next, pause))
  }
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
    const event = partCode(fillKnown(tag.event, { account }))
    return [{ id, base: fillCode(tag.base, { account }), event, slots: Object.fromEntries(own) }]
  })
}

/** Keeps a route, under a new code where it names none. Gives what is wrong, or null when it is done. */
export async function keepRoute(database: Database, route: Route): Promise<string | null> {
  const code = route.code || mintCode()
  if (!/^[A-Za-z0-9_-]{1,64}$/.test(code)) return 'A code is letters, digits, - and _, at most 64 of them.'
  const read = routeSchema.safeParse(route)
  if (!read.success) return z.prettifyError(read.error)
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
