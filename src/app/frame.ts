import Negotiator from 'negotiator'
import { headers } from 'next/headers'
import { cache } from 'react'
import { JUDGED_RESULT } from '@/core/intake/judgedResult'
import { settingsFor } from '@/core/intake/settings'
import { formatDay, isLocale, parseDay, zoneClock } from '@/core/shared/days'
import { daysBefore } from '@/core/shared/periods'
import { serverUrl, sharedDatabase } from '@/data/connect'
import { countAside } from '@/data/intake'
import { dataSpan } from '@/data/loadRecords'
import { hasRoom } from '@/data/room'
import { listDefinitions } from '@/data/signals'
import { listNetworks, listProfiles } from '@/data/workspace'
import { dataFolder } from '@/formats/dataFolder'
import { judgeableResults } from '@/server/counting'
import { leftOut } from '@/server/leftOut'
import { knownAlarms } from '@/server/signals/latestAlarms'
import { ensureWorkspace } from '@/server/workspace'
import type { Frame } from '@/ui/shell/frame'

/** What `spend` of an address says where spend that no report splits is to be shared out by clicks. */
export const SHARED_SPEND = 'by_clicks'
export type Search = Record<string, string | string[] | undefined>
const USUAL_DAYS = 28

export const workspaceHere = cache(() => ensureWorkspace(sharedDatabase()))

const one = (value: string | string[] | undefined) => (Array.isArray(value) ? value[0] : value)

const spanHere = cache(async () => {
  const { id, settings } = await workspaceHere()
  return dataSpan(sharedDatabase(), id, settings.time_zone)
})

/** The period and scope that an address asks for; by default the last 28 days that hold anything. */
export async function readAddress(search: Search) {
  const { id, settings } = await workspaceHere()
  const span = await spanHere()
  const last = span?.to ?? zoneClock(settings.time_zone)(Date.now()).day
  const to = parseDay(one(search.to) ?? '') ?? last
  const from = parseDay(one(search.from) ?? '') ?? Math.max(span?.from ?? to, to - USUAL_DAYS + 1)
  const network = one(search.network)
  return {
    workspace: id,
    settings,
    span,
    period: { from: Math.min(from, to), to: Math.max(from, to) },
    before:
      one(search.beside) === 'before'
        ? daysBefore({ from: Math.min(from, to), to: Math.max(from, to) })
        : null,
    scope: network ? { network } : {},
    result: one(search.result) || JUDGED_RESULT,
  }
}

/** The language that the browser asks for first, of those that figures can be written by. */
async function browserLocale(): Promise<string> {
  const asked = new Negotiator({ headers: Object.fromEntries(await headers()) }).languages()
  return asked.find(tag => tag !== '*' && isLocale(tag)) ?? 'en-GB'
}

/** What needs attention at each station, in a sentence. */
async function attentionHere(workspace: string): Promise<Record<string, string>> {
  const aside = await countAside(sharedDatabase(), workspace)
  const out = leftOut()
  const alarms = knownAlarms(workspace, Date.now()).filter(alarm => alarm.until === null)
  const own = alarms.filter(a => a.receiver === 'Aequant').length
  const lost = alarms.filter(a => a.kind === 'lost_clicks')
  const theirs = alarms.length - own - lost.length
  const said: Record<string, string | null> = {
    '/results':
      theirs > 0 ? `${theirs} of the networks’ signals ${theirs === 1 ? 'is' : 'are'} not as usual.` : null,
    '/signals': own > 0 ? `${own} of the tag’s signals ${own === 1 ? 'is' : 'are'} not as usual.` : null,
    '/links': lost[0] ? `Clicks of ${lost[0].ad?.name} are billed and do not arrive.` : null,
    '/intake':
      aside > 0
        ? `${aside} ${aside === 1 ? 'arrival is' : 'arrivals are'} set aside and in no figure.`
        : out[0]
          ? `${out.length === 1 ? '' : `${out.length} things are left out, among them `}${out[0].what}: ${out[0].why}`
          : null,
  }
  return Object.fromEntries(Object.entries(said).flatMap(([path, why]) => (why ? [[path, why]] : [])))
}

/** That figures no longer follow what arrives, where that is so. */
const fullDisk = (): string[] =>
  serverUrl() || hasRoom(dataFolder())
    ? []
    : [
        'The disk that holds these figures is nearly full: nothing is taken in and nothing changed until some room is freed.',
      ]

/** What an address asks for that is not there, in sentences. */
function unknownIn(
  search: Search,
  isNetwork: (id: string) => boolean,
  isResult: (id: string) => boolean,
): string[] {
  const network = one(search.network)
  const days = (['from', 'to'] as const).flatMap(key => {
    const text = one(search[key])
    return text !== undefined && parseDay(text) === null
      ? [`“${text}” in the address is no day: write ${key}=2026-10-05.`]
      : []
  })
  const result = one(search.result)
  return [
    ...(network !== undefined && !isNetwork(network)
      ? [`There is no network “${network}”: nothing is shown of it. Choose one above.`]
      : []),
    ...(result && !isResult(result)
      ? [`There is no result “${result}”: nothing is shown of it. Choose one above.`]
      : []),
    ...days,
  ]
}

export async function buildFrame(search: Search): Promise<Frame> {
  const [workspace, address] = [await workspaceHere(), await readAddress(search)]
  const networks = await listNetworks(sharedDatabase(), workspace.id)
  const profiles = await listProfiles(sharedDatabase(), workspace.id)
  const definitions = await listDefinitions(sharedDatabase(), workspace.id)
  const results = await judgeableResults(sharedDatabase(), workspace.id, address.result)
  const networkNames = Object.fromEntries(profiles.map(p => [p.id, p.name]))
  return {
    workspace: workspace.name,
    settings: workspace.settings,
    habits: {
      locale: workspace.settings.locale ?? (await browserLocale()),
      zone: workspace.settings.time_zone,
      currency: workspace.settings.currency,
      firstWeekday: workspace.settings.first_weekday,
    },
    judged: settingsFor(workspace.settings, definitions.find(d => d.id === address.result) ?? {}),
    period: { from: formatDay(address.period.from), to: formatDay(address.period.to) },
    span: address.span && { from: formatDay(address.span.from), to: formatDay(address.span.to) },
    before: address.before !== null,
    network: address.scope.network ?? null,
    attention: await attentionHere(workspace.id),
    result: address.result,
    results,
    warnings: [
      ...fullDisk(),
      ...unknownIn(
        search,
        id => networks.includes(id) || id in networkNames,
        id => results.some(result => result.id === id),
      ),
    ],
    networks: networks
      .map(id => ({ id, name: networkNames[id] ?? id }))
      .sort((a, b) => a.name.localeCompare(b.name)),
    networkNames,
  }
}
