import * as z from 'zod'
import { entityKey } from '@/core/links/account'
import type { LinkChange } from '@/core/links/change'
import { type Met, rebase } from '@/core/links/rebase'
import { formatDay, zoneClock } from '@/core/shared/days'
import { noteChange } from '@/data/changeLog'
import type { Database } from '@/data/connect'
import { findName, saveSeen } from '@/data/entities'
import { applyChanges, notePlaced, type PlacedAddress, readHeld } from '@/data/links'
import type { Workspace } from '@/data/workspace'
import { raiseVersion } from '@/data/workspace'
import { askPractice } from '../practice'
import { publishRoutes } from '../routes'
import { linksOf, readStation } from './station'
import { readAgain } from './unknownValues'

/**
 * Applies changes of what ads carry, all or none.
 *
 * @returns what somebody else had changed meanwhile
 */
export async function changeLinks(
  database: Database,
  workspace: string,
  changes: readonly LinkChange[],
): Promise<Met[]> {
  const met = await database.transaction(async inner => {
    const rebased = rebase(changes, await readHeld(inner, workspace, changes))
    await applyChanges(inner, workspace, rebased.changes)
    for (const network of new Set(rebased.changes.map(change => change.network)))
      await noteChange(inner, workspace, 'plan', network)
    // Orders are read by what plans say.
    if (rebased.changes.some(change => change.what === 'plan')) await raiseVersion(inner, workspace, 'rules')
    return rebased.met
  })
  // Pages of ads have codes, and the tag knows the parameters of plans.
  const bringsKey = (change: LinkChange) =>
    change.what === 'plan' && Object.keys(change.after).some(key => !(key in change.before))
  if (changes.some(c => c.what === 'ad' || bringsKey(c))) await publishRoutes(database, workspace)
  return met
}

const entity = (what: string) =>
  z.object({
    id: z.string().trim().min(1, `write the ${what}’s ID`).max(200),
    name: z.string().trim().min(1, `name the ${what}`).max(200),
  })
const newAdSchema = z.object({
  network: z.string().min(1),
  /** what stands above the ad, as far as the network has such levels */
  campaign: entity('campaign').optional(),
  ad_set: entity('ad set').optional(),
  ad: entity('ad'),
  landing_page: z.string().trim().max(4096),
})
export type NewAd = z.input<typeof newAdSchema>

/**
 * Adds an ad, named today; a level that its network lacks is named as the one above it.
 *
 * @returns what is wrong in words, or null when it is done
 */
export async function addAd(
  database: Database,
  { id: workspace, settings }: Workspace,
  given: NewAd,
  now: number,
): Promise<string | null> {
  const read = newAdSchema.safeParse(given)
  if (!read.success) return read.error.issues.map(issue => issue.message).join('\n')
  const { network, ad, landing_page } = read.data
  const campaign = read.data.campaign ?? ad
  const adSet = read.data.ad_set ?? campaign
  const known = await findName(database, workspace, network, 'ad', ad.id)
  if (known !== null)
    return `There is an ad ${ad.id} already: ${known}. Choose it in the tree, or write another ID.`
  for (const [level, given] of [
    ['campaign', campaign],
    ['ad_set', adSet],
  ] as const) {
    const called = await findName(database, workspace, network, level, given.id)
    if (called !== null && called !== given.name)
      return `${given.id} is the ${level.replace('_', ' ')} ${called}. Write that name, or another ID.`
  }
  const today = formatDay(zoneClock(settings.time_zone)(now).day)
  const above = { network, campaign_id: campaign.id, day: today }
  await database.transaction(async inner => {
    await saveSeen(inner, workspace, [
      { ...above, level: 'campaign', ...campaign, ad_set_id: '' },
      { ...above, level: 'ad_set', ...adSet, ad_set_id: adSet.id },
      { ...above, level: 'ad', ...ad, ad_set_id: adSet.id, landing_page: landing_page || null },
    ])
    await raiseVersion(inner, workspace, 'rules')
  })
  await readAgain(database, workspace)
  await publishRoutes(database, workspace)
  return null
}

/** Puts ads' addresses into a practice network's own form, as the marketer would paste them. */
export async function putOnPractice(
  database: Database,
  workspace: Workspace,
  network: string,
  adIds: readonly string[],
): Promise<boolean> {
  const station = await readStation(database, workspace)
  const { entities, names } = station
  const linkOf = linksOf(station)
  const wanted = new Set(adIds)
  const placed: PlacedAddress[] = []
  const ads = entities
    .filter(e => e.network === network && e.level === 'ad' && wanted.has(e.id) && e.landingPage)
    .flatMap(ad => {
      const made = linkOf(ad)
      if (!made) return []
      const { link, profile } = made
      placed.push({ network, id: ad.id, placed: link.address })
      const holding = (holds: 'address' | 'query') => {
        const field = profile.fields.find(f => f.holds === holds)?.id
        return (field && link.fields[field]) ?? ''
      }
      const named = (level: string, id: string) => ({ id, name: names[entityKey(network, level, id)] ?? id })
      return [
        {
          campaign: named('campaign', ad.campaignId),
          ad_set: named('ad_set', ad.adSetId),
          ad: { id: ad.id, name: ad.name },
          destination: holding('address'),
          parameters: holding('query'),
        },
      ]
    })
  const taken = await askPractice(network, '/ads', { type: 'application/json', body: JSON.stringify(ads) })
  if (taken?.status !== 200) return false
  await notePlaced(database, workspace.id, placed)
  return true
}
