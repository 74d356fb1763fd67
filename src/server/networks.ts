import {
  type NetworkStart,
  networkIdFor,
  networkStartSchema,
  startProfile,
} from '@/core/links/networkTemplates'
import { type NetworkProfile, profileSchema } from '@/core/links/profile'
import { PLACEMENTS } from '@/core/links/savedLink'
import type { Database } from '@/data/connect'
import { type HeldOfNetwork, heldByNetwork, isSpokenOf, removeProfile } from '@/data/networks'
import { listProfiles, raiseVersion, type Workspace } from '@/data/workspace'
import { keepProfile } from './links/profiles'
import { publishRoutes } from './routes'
import { nameSource } from './setAside'

export interface KnownNetwork extends Omit<HeldOfNetwork, 'network'> {
  id: string
  name: string
  /** none for one that reports name and nobody has described */
  profile: NetworkProfile | null
}
const nothing = { ads: 0, first: null, last: null, claims: false, clicks: 0 }

/** Every network that is described or of which something is held, by name. */
export async function knownNetworks(database: Database, workspace: string): Promise<KnownNetwork[]> {
  const profiles = await listProfiles(database, workspace)
  const held = await heldByNetwork(database, workspace)
  // Places of one's own are kept as a network's, and are none.
  const ids = new Set(
    [...profiles.map(p => p.id), ...held.map(h => h.network)].filter(id => id !== PLACEMENTS),
  )
  return [...ids]
    .map(id => {
      const profile = profiles.find(p => p.id === id) ?? null
      const { network: _, ...own } = held.find(h => h.network === id) ?? { network: id, ...nothing }
      return { id, name: profile?.name ?? id, profile, ...own }
    })
    .sort((a, b) => a.name.localeCompare(b.name))
}

/**
 * Begins a network's data sheet from a template.
 *
 * @param described the ID of one that reports name already
 * @returns its ID, or what is wrong
 */
export async function startNetwork(
  database: Database,
  workspace: Workspace,
  start: NetworkStart,
  described?: string,
): Promise<{ id: string } | { problem: string }> {
  const read = networkStartSchema.safeParse(start)
  if (!read.success) return { problem: 'Give the network a name.' }
  const known = await knownNetworks(database, workspace.id)
  const same = known.find(n => n.profile && n.name.toLowerCase() === read.data.name.toLowerCase())
  if (same) return { problem: `There is a network called ${same.name} already.` }
  const id =
    described ??
    networkIdFor(
      read.data.name,
      known.map(n => n.id),
    )
  if (!profileSchema.shape.id.safeParse(id).success)
    return {
      problem: `Files name it “${id}”, which can be no ID: let them name it in lower case letters and digits.`,
    }
  const [wrong] = await keepProfile(database, workspace, startProfile(read.data, id), { isNew: true })
  if (wrong) return { problem: wrong.message }
  if (read.data.source) await nameSource(database, workspace, read.data.source, id)
  return { id }
}

/** Takes a network's data sheet out. Gives why it stays, or null when it is gone. */
export async function dropNetwork(
  database: Database,
  workspace: Workspace,
  id: string,
): Promise<string | null> {
  const network = (await knownNetworks(database, workspace.id)).find(n => n.id === id)
  if (!network) return null
  if (network.ads > 0 || network.first || network.claims || network.clicks > 0)
    return `${network.name} stays: ads, spend, claims or clicks of it are held, and figures rest on them.`
  if (await isSpokenOf(database, workspace.id, id))
    return `${network.name} stays: a tag plan, a route or a signal names it. Take it out there first.`
  await database.transaction(async inner => {
    await removeProfile(inner, workspace.id, id)
    await raiseVersion(inner, workspace.id, 'rules')
  })
  await publishRoutes(database, workspace.id)
  return null
}
