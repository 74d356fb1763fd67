import * as z from 'zod'
import { type NetworkProfile, profileSchema } from '@/core/links/profile'
import type { Saved } from '@/core/shared/mergeEdit'
import { templateProblems } from '@/core/signals/templateProblems'
import { noteChange } from '@/data/changeLog'
import type { Database } from '@/data/connect'
import { countRelays, latestRelays, type Relay, relaySecret, saveRelaySecret } from '@/data/relays'
import { listDefinitions } from '@/data/signals'
import { listProfiles, raiseVersion, saveProfile } from '@/data/workspace'
import { type Edit, edited } from '../edited'
import { publishRoutes } from '../routes'

const MOST_SHOWN = 60

/** How one network is told, as its form has it. */
export type NetworkSetup = Pick<
  NetworkProfile,
  | 'id'
  | 'name'
  | 'account'
  | 'tag'
  | 'placed_by'
  | 'outgoing'
  | 'relayed_since'
  | 'confirmed_within_days'
  | 'slots'
>
export interface DescribedNetwork {
  setup: NetworkSetup
  /** the secret itself is shown to nobody */
  hasSecret: boolean
  sent: Partial<Record<Relay['state'], number>>
}
/** One event that the server told, or is to tell. */
export interface RelayLine extends Pick<Relay, 'network' | 'event_id' | 'state' | 'tries' | 'facts'> {
  result: string
  at: number
  nextAt: number
  test: boolean
}

/** Every network with how it is told, and the latest that the server told or tried to. */
export async function describeNetworks(
  database: Database,
  workspace: string,
): Promise<{ networks: DescribedNetwork[]; log: RelayLine[] }> {
  const counts = await countRelays(database, workspace)
  const names = new Map((await listDefinitions(database, workspace)).map(d => [d.id, d.name]))
  const networks: DescribedNetwork[] = []
  for (const profile of await listProfiles(database, workspace)) {
    const { id, name, account, tag, placed_by, outgoing, relayed_since, confirmed_within_days, slots } =
      profile
    networks.push({
      setup: { id, name, account, tag, placed_by, outgoing, relayed_since, confirmed_within_days, slots },
      hasSecret: (await relaySecret(database, workspace, id)) !== null,
      sent: Object.fromEntries(counts.filter(c => c.network === id).map(c => [c.state, c.count])),
    })
  }
  const log = await latestRelays(database, workspace, MOST_SHOWN)
  return {
    // Those that are told in some way come first.
    networks: networks.sort((a, b) => Number(Boolean(b.setup.tag)) - Number(Boolean(a.setup.tag))),
    log: log.map(({ network, event_id, state, tries, facts, result, at, next_at, test }) => ({
      network,
      event_id,
      state,
      tries,
      facts,
      result: names.get(result) ?? result,
      at: at.getTime(),
      nextAt: next_at.getTime(),
      test: test !== null,
    })),
  }
}

/** Keeps how a network is told. Gives what is wrong, or null when it is done; or what somebody else changed meanwhile. */
export async function keepNetwork(
  database: Database,
  workspace: string,
  { id, ...setup }: Omit<NetworkSetup, 'name'>,
  secret: string | null,
  { before, over }: Edit<Omit<NetworkSetup, 'name'>> = {},
): Promise<Saved> {
  const profile = (await listProfiles(database, workspace)).find(p => p.id === id)
  if (!profile) return `There is no network ${id}.`
  const now = Object.fromEntries(
    Object.keys(setup).map(key => [key, profile[key as keyof typeof profile]]),
  ) as typeof setup
  const edit = edited(now, setup, { before: before && withoutId(before), over })
  if ('clashes' in edit) return edit
  const read = profileSchema.safeParse({ ...profile, ...cleared(setup), ...edit.merged })
  if (!read.success) return z.prettifyError(read.error)
  const [unsafe] = templateProblems(read.data)
  if (unsafe) return `${unsafe.path}: ${unsafe.message}.`
  await database.transaction(async inner => {
    await saveProfile(inner, workspace, read.data)
    await noteChange(inner, workspace, 'network', id)
    await raiseVersion(inner, workspace, 'rules')
    if (secret) await saveRelaySecret(inner, workspace, id, secret)
  })
  await publishRoutes(database, workspace)
  return null
}

const withoutId = ({ id: _, ...rest }: Omit<NetworkSetup, 'name'>) => rest
/** Every field empty: what an edit leaves out is taken out. */
const cleared = (setup: object) => Object.fromEntries(Object.keys(setup).map(key => [key, undefined]))
