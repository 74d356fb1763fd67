import { type EntityRow, entityKey } from '@/core/links/account'
import { type ParameterArrivals, readArrivals } from '@/core/links/parameterArrivals'
import { planInTime } from '@/core/links/planInTime'
import type { EntityLevel } from '@/core/links/readLink'
import type { AdArrivals } from '@/core/links/survey'
import { DAY_MS } from '@/core/shared/days'
import { pathKey } from '@/core/shared/path'
import { countUnknown } from '@/data/clicks'
import type { Database } from '@/data/connect'
import { listFormerNames } from '@/data/entities'
import { latestQueries, stationRows } from '@/data/links'
import { listUndecided, type Provisional } from '@/data/provisional'
import { listPlanVersions, listProfiles } from '@/data/workspace'

const LOOK_BACK_DAYS = 7
/** Of more clicks than these the latest are read. */
const MOST_CLICKS = 20_000

export interface GatheredArrivals {
  days: number
  clicks: number
  /** not all clicks of those days were read */
  cut: boolean
  parameters: ParameterArrivals[]
  /** by `network/ad` */
  ads: Record<string, AdArrivals>
  /** the names of what values name and of the ads that brought them, present and former, by `network/level/id` */
  names: Record<string, { name: string; former: string[] }>
  /** values of clicks that should name a campaign, ad set or ad and name none, of any time, most clicks first */
  unknown: { network: string; level: EntityLevel; value: string; clicks: number; last: number }[]
  /** what was added without an ID and may be several that reports have named since */
  undecided: Provisional[]
}

/** So many values are shown that name nothing. */
const MOST_UNKNOWN = 100

/** What arrived of every planned parameter in the last days. */
export async function gatherArrivals(
  database: Database,
  workspace: string,
  now: number,
): Promise<GatheredArrivals> {
  const clicks = await latestQueries(
    database,
    workspace,
    new Date(now - LOOK_BACK_DAYS * DAY_MS),
    MOST_CLICKS,
  )
  const ids = new Map<string, string>()
  const key = (network: string, level: string, value: string) => pathKey(network, level, value)
  const present = new Map<string, string>()
  const former = await listFormerNames(database, workspace)
  const rows = await stationRows(database, workspace)
  const entities: EntityRow[] = JSON.parse(rows.entities)
  for (const [network, level, id] of entities)
    for (const name of former[entityKey(network, level, id)] ?? []) ids.set(key(network, level, name), id)
  // A present name, and an ID before all, is meant before a former one.
  for (const [network, level, id, , , name] of entities) {
    ids.set(key(network, level, name), id)
    present.set(entityKey(network, level, id), name)
  }
  for (const [network, level, id] of entities) ids.set(key(network, level, id), id)
  const read = readArrivals(
    clicks,
    {
      profiles: await listProfiles(database, workspace),
      ...planInTime(await listPlanVersions(database, workspace)),
      find: (network, level, value) => ids.get(key(network, level, value)) ?? null,
    },
    now - DAY_MS,
  )
  const names: GatheredArrivals['names'] = {}
  const note = (entity: string) => {
    const name = present.get(entity)
    if (name !== undefined) names[entity] = { name, former: former[entity] ?? [] }
  }
  for (const { network, token, values } of read.parameters)
    for (const value of values) {
      note(entityKey(network, 'ad', value.ad))
      if (value.names !== null && token) note(entityKey(network, token.split('.')[0]!, value.names))
    }
  return {
    days: LOOK_BACK_DAYS,
    clicks: read.clicks,
    cut: clicks.length === MOST_CLICKS,
    parameters: read.parameters,
    ads: Object.fromEntries(read.ads),
    names,
    unknown: await countUnknown(database, workspace, MOST_UNKNOWN),
    undecided: await listUndecided(database, workspace),
  }
}
