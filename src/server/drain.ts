import { open, readdir } from 'node:fs/promises'
import { join } from 'node:path'
import { eq } from 'drizzle-orm'
import { type ClickArrival, clickArrivalSchema, readTokens, tokensByKey } from '@/core/intake/arrival'
import type { RecordOf } from '@/core/intake/records'
import type { NetworkProfile } from '@/core/links/profile'
import { append } from '@/core/shared/append'
import type { Database, Executor } from '@/data/connect'
import { storeRecords } from '@/data/exchange'
import { drainPositions } from '@/data/schema'
import { type AdEntity, listEntities, listPlans, listProfiles, raiseVersion } from '@/data/workspace'

const CHUNK_BYTES = 1024 * 1024
/** The journal of this data folder, in `drain_positions`. */
export const JOURNAL = 'local'

/**
 * Takes what the collector has written into the database, a chunk at a time, and remembers how far in
 * the same transaction: after a crash at any moment every record is there once.
 *
 * @returns how many records were taken in; 0 when the journal is at its end
 */
export async function drainOnce(database: Database, folder: string): Promise<number> {
  const journal = join(folder, 'journal')
  const segments = (await readdir(journal).catch(() => [])).filter(name => name.endsWith('.ndjson')).sort()
  const [position] = await database.select().from(drainPositions).where(eq(drainPositions.journal, JOURNAL))
  const from = position && segments.includes(position.segment) ? segments.indexOf(position.segment) : 0
  for (const segment of segments.slice(from)) {
    const offset = position?.segment === segment ? position.offset : 0
    const chunk = await readChunk(join(journal, segment), offset)
    const end = chunk.lastIndexOf(10) + 1
    if (end === 0) continue
    const lines = chunk.subarray(0, end).toString('utf8').split('\n').filter(Boolean)
    const arrivals = lines.flatMap(parseLine)
    await database.transaction(async transaction => {
      await storeArrivals(transaction, arrivals)
      const next = { journal: JOURNAL, segment, offset: offset + end }
      await transaction
        .insert(drainPositions)
        .values(next)
        .onConflictDoUpdate({ target: drainPositions.journal, set: next })
    })
    return lines.length
  }
  return 0
}

async function readChunk(path: string, offset: number): Promise<Buffer> {
  const file = await open(path, 'r')
  try {
    const { bytesRead, buffer } = await file.read(Buffer.alloc(CHUNK_BYTES), 0, CHUNK_BYTES, offset)
    return buffer.subarray(0, bytesRead)
  } finally {
    await file.close()
  }
}

/** How many whole lines a segment holds behind an offset. */
export async function countLines(path: string, offset: number): Promise<number> {
  let lines = 0
  for (let at = offset; ; ) {
    const chunk = await readChunk(path, at)
    if (chunk.length === 0) return lines
    for (const byte of chunk) if (byte === 10) lines += 1
    at += chunk.length
  }
}

function parseLine(line: string): ClickArrival[] {
  try {
    return [clickArrivalSchema.parse(JSON.parse(line))]
  } catch {
    console.error('A journal line could not be read and was passed over:', line.slice(0, 200))
    return []
  }
}

async function storeArrivals(database: Executor, arrivals: readonly ClickArrival[]): Promise<void> {
  const byWorkspace = new Map<string, ClickArrival[]>()
  for (const arrival of arrivals) append(byWorkspace, arrival.workspace, arrival)
  for (const [workspace, own] of byWorkspace) {
    const read = await clickReader(database, workspace)
    await storeRecords(database, workspace, 'clicks', own.map(read))
    await raiseVersion(database, workspace)
  }
}

/** Reads a click's parameters by the network's tag plan, and its ad by ID or by name. */
async function clickReader(database: Executor, workspace: string) {
  const [profiles, plans, entities] = [
    await listProfiles(database, workspace),
    await listPlans(database, workspace),
    await listEntities(database, workspace),
  ]
  const profileOf = new Map(profiles.map(p => [p.id, p]))
  const tokensOf = new Map(
    profiles.map(p => [
      p.id,
      tokensByKey(
        plans.filter(plan => plan.network === p.id).flatMap(plan => Object.entries(plan.parameters)),
        p,
      ),
    ]),
  )
  const find = entityFinder(entities)
  return (arrival: ClickArrival): RecordOf['clicks'] => {
    const profile: NetworkProfile | undefined = profileOf.get(arrival.network)
    const values = profile
      ? readTokens(arrival.query, tokensOf.get(arrival.network) ?? new Map(), profile)
      : new Map<string, string>()
    const value = (token: string) => values.get(token) ?? null
    const ad = find(arrival.network, 'ad', value('ad.id'), value('ad.name'))
    const adSet = find(arrival.network, 'ad_set', ad?.adSetId ?? value('ad_set.id'), value('ad_set.name'))
    const campaign = find(
      arrival.network,
      'campaign',
      ad?.campaignId ?? adSet?.campaignId ?? value('campaign.id'),
      value('campaign.name'),
    )
    const networkParameter = profile?.click_id_parameter
    return {
      click_id: arrival.id,
      clicked_at: arrival.at,
      network: arrival.network,
      campaign_id: campaign?.id ?? value('campaign.id'),
      ad_set_id: adSet?.id ?? value('ad_set.id'),
      ad_id: ad?.id ?? value('ad.id'),
      visitor_id: arrival.visitor,
      network_click_id:
        (networkParameter && new URLSearchParams(arrival.query).get(networkParameter)) || value('click.id'),
      landing_url: arrival.landing,
      device: value('device') ?? arrival.device,
      placement: value('placement'),
      keyword: value('keyword'),
      match_type: value('match_type'),
      source: value('source'),
      country: null,
      collected_by: arrival.code,
    }
  }
}

/** Finds a campaign, ad set or ad by its ID, or by a name that only one of them has. */
function entityFinder(entities: readonly AdEntity[]) {
  const byId = new Map<string, AdEntity>()
  const byName = new Map<string, AdEntity[]>()
  const key = (network: string, level: string, text: string) => [network, level, text].join('\u001f')
  for (const entity of entities) {
    byId.set(key(entity.network, entity.level, entity.id), entity)
    append(byName, key(entity.network, entity.level, entity.name), entity)
  }
  return (
    network: string,
    level: AdEntity['level'],
    id: string | null,
    name: string | null,
  ): AdEntity | undefined => {
    const named = name ? (byName.get(key(network, level, name)) ?? []) : []
    return (id ? byId.get(key(network, level, id)) : undefined) ?? (named.length === 1 ? named[0] : undefined)
  }
}

const IDLE_MS = 250

/** Drains for as long as the process lives. A failure is said once and tried again. */
export async function drainForever(database: Database, folder: string): Promise<never> {
  let failed = false
  for (;;) {
    try {
      while ((await drainOnce(database, folder)) > 0);
      failed = false
    } catch (error) {
      if (!failed)
        console.error(
          'Taking in the journal failed; it is tried again.',
          error instanceof Error ? error.message : error,
        )
      failed = true
    }
    await new Promise(next => setTimeout(next, failed ? 2000 : IDLE_MS))
  }
}
