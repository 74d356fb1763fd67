import { networkRules } from '@/core/intake/settings'
import { nameOf } from '@/core/intake/tree'
import { append } from '@/core/shared/append'
import { DAY_MS, startOfDay } from '@/core/shared/days'
import { type AdDay, episodesOf, isKnown, lostClicks } from '@/core/signals/alarms'
import type { Evidence } from '@/core/weigh/evidence'
import type { Database } from '@/data/connect'
import { listDefinitions } from '@/data/signals'
import { findWorkspace } from '@/data/workspace'
import { clicksSeen } from '../clicksSeen'
import { gatherHeard, type HeardSignal, rowsSince } from './heard'
import { reportedUntil } from './results'

/** How far back alarms are looked for. */
export const LOOK_BACK_DAYS = 90

const EVER = { from: 0, until: Date.UTC(9999, 0, 1) }

/** Something that was not as usual with a signal or a link: since when, and what the figures are. */
export interface Alarm {
  kind: 'quiet' | 'flood' | 'repeats' | 'lost_clicks'
  /** who hears of it: Aequant or a network */
  receiver: string
  /** through what we know of it */
  through: HeardSignal['through']
  /** name of the result; null for an ad's clicks */
  result: string | null
  ad: { id: string; name: string } | null
  /** epoch ms */
  since: number
  /** epoch ms; null while it lasts */
  until: number | null
  /** on the worst day, or of the clicks all */
  expected: number
  seen: number
  repeats: number
}

export interface Watched {
  /** all that was not as usual in the last months, what lasts first, then the latest */
  alarms: Alarm[]
  /** signals that were heard long enough to know what is usual */
  signals: number
  /** ads whose billed clicks could be held against those that arrived */
  ads: number
}

/** Reads every signal and every ad's clicks of the last months. */
export async function gatherAlarms(
  database: Database,
  workspaceId: string,
  evidence: Evidence,
  now: number,
): Promise<Watched> {
  const workspace = await findWorkspace(database, workspaceId)
  if (!workspace) return { alarms: [], signals: 0, ads: 0 }
  const zone = workspace.settings.time_zone
  const from = now - LOOK_BACK_DAYS * DAY_MS
  const definitions = (await listDefinitions(database, workspaceId)).filter(d => !d.archived)
  const since = new Date(from)
  const rows = await rowsSince(database, workspaceId, since)
  const { signalsOf } = await gatherHeard(database, workspaceId, definitions, rows, since, zone)
  const until = await reportedUntil(database, workspace, now)
  const signals = definitions.flatMap(definition =>
    signalsOf(definition)
      .filter(signal => signal.by !== null && isKnown(signal.heard, until(signal)))
      .map(signal => ({ name: definition.name, signal })),
  )
  const ofSignals = signals.flatMap(({ name, signal }) =>
    episodesOf(signal.heard, from, until(signal), zone).map(
      ({ pulse, ...episode }): Alarm => ({
        ...episode,
        kind: pulse === 'quiet' ? 'quiet' : episode.repeats > 0 ? 'repeats' : 'flood',
        receiver: signal.receiver,
        through: signal.through,
        result: name,
        ad: null,
      }),
    ),
  )
  const days = await adDays(database, workspaceId, evidence)
  const alarms = [...ofSignals, ...lostClicksIn(evidence, days)].sort(
    (a, b) =>
      (b.until ?? Number.POSITIVE_INFINITY) - (a.until ?? Number.POSITIVE_INFINITY) || b.since - a.since,
  )
  return { alarms, signals: signals.length, ads: new Set(days.map(d => d.ad)).size }
}

/** Clicks of each ad and day that its network reported: what it bills, and what arrived and counts. */
async function adDays(database: Database, workspace: string, { data }: Evidence): Promise<AdDay[]> {
  const { tree, settings } = data
  const networksIn = new Map<string, string[]>()
  for (const network of tree.networks) append(networksIn, networkRules(settings, network).time_zone, network)
  const networkOf = (leaf: number) => tree.networks.indexOf(tree.leaves[leaf]!.network)
  const days = new Map<string, AdDay>()
  const at = (leaf: number, day: number): AdDay => {
    const key = `${leaf} ${day}`
    let known = days.get(key)
    if (!known) days.set(key, (known = { ad: leaf, network: networkOf(leaf), day, billed: 0, seen: 0 }))
    return known
  }
  for (const row of data.delivery) at(row.leaf, row.day).billed += row.clicks
  for (const [zone, networks] of networksIn)
    for (const { leaf, day, clicks } of await clicksSeen(database, workspace, tree, EVER, zone, { networks }))
      if (leaf >= 0) at(leaf, day).seen += clicks
  // Days of which the network has reported nothing say nothing.
  return [...days.values()].filter(d => d.billed > 0)
}

function lostClicksIn({ data: { tree, settings } }: Evidence, days: readonly AdDay[]): Alarm[] {
  const lastDay = days.reduce((latest, d) => Math.max(latest, d.day), 0)
  return lostClicks(days).map((lost): Alarm => {
    const { network, ad } = tree.leaves[lost.ad]!
    const zone = networkRules(settings, network).time_zone
    return {
      kind: 'lost_clicks',
      receiver: network,
      through: 'reports',
      result: null,
      ad: { id: ad, name: nameOf(tree, network, 'ad', ad) },
      since: startOfDay(lost.from, zone),
      until: lost.to === lastDay ? null : startOfDay(lost.to + 1, zone),
      expected: lost.billed,
      seen: lost.seen,
      repeats: 0,
    }
  })
}
