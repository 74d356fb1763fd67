import { assembleLink } from '@/core/links/assemble'
import { spreadCost } from '@/core/links/handCost'
import { profileSchema } from '@/core/links/profile'
import {
  isPlacement,
  linkCodeSchema,
  PLACEMENTS,
  type SavedLink,
  savedLinkSchema,
} from '@/core/links/savedLink'
import { type Day, formatDay, type Period, spanOf, zoneClock } from '@/core/shared/days'
import type { Database, Executor } from '@/data/connect'
import { saveEntities } from '@/data/entities'
import { listLinkHistory, listSavedLinks, type StoredLink, saveHandCost, saveLink } from '@/data/savedLinks'
import { countAdClicks } from '@/data/sources'
import {
  listProfiles,
  listRoutes,
  raiseVersion,
  saveProfile,
  saveRoute,
  type Workspace,
} from '@/data/workspace'
import { ask } from '../compute/ask'
import { mintCode, publishRoutes, trackingOrigin } from '../routes'

/** What the form of a saved link gives: the rest follows from it. */
export interface LinkForm
  extends Omit<SavedLink, 'former_codes' | 'created_at' | 'campaign' | 'ad_set' | 'ad'> {
  campaign: string
  ad: string
  /** an ad of a network that the link is for; null for a placement of our own */
  of: Pick<SavedLink, 'network' | 'campaign' | 'ad_set' | 'ad'> | null
}

export interface LibraryLink extends StoredLink {
  address: string
  clicks: number
  spend: number | null
  orders: number | null
  cost: number | null
  history: { at: number; link: SavedLink }[]
}

const placements = profileSchema.parse({
  id: PLACEMENTS,
  name: 'Own placements',
  dialect: {},
  levels: ['campaign', 'ad'],
  level_names: { campaign: 'occasion', ad: 'placement' },
})

/** Every saved link with its clicks and results of a period. */
export async function readLibrary(
  database: Database,
  workspace: Workspace,
  period: Period,
): Promise<LibraryLink[]> {
  const links = await listSavedLinks(database, workspace.id)
  const keyOf = ({ link }: StoredLink) => `${link.network}/${link.ad.id}`
  const clicks = await countAdClicks(database, workspace.id, spanOf(period, workspace.settings.time_zone))
  const figures = new Map(
    (links.length > 0 ? await ask(workspace.id, 'adFigures', { period, ads: links.map(keyOf) }) : []).map(
      f => [f.ad, f],
    ),
  )
  const library: LibraryLink[] = []
  for (const stored of links) {
    const own = figures.get(keyOf(stored))
    const costUnknown = isPlacement(stored.link) && stored.link.cost === null
    library.push({
      ...stored,
      address: `${trackingOrigin()}/c/${stored.code}`,
      clicks: clicks.get(keyOf(stored)) ?? 0,
      orders: own?.orders ?? null,
      ...(costUnknown ? { spend: null, cost: null } : { spend: own?.spend ?? null, cost: own?.cost ?? null }),
      history: await listLinkHistory(database, workspace.id, stored.code),
    })
  }
  return library.sort((a, b) => b.link.created_at.localeCompare(a.link.created_at))
}

/** Where a code leads: the destination, and for a placement its parameters with it. */
function landingOf(link: SavedLink): string {
  const plan = isPlacement(link) ? { account: link.parameters } : {}
  return assembleLink({ profile: placements, destination: link.destination, plan }).address
}

/** A code that is free or the link's own; or what is wrong with it. */
async function freeCode(database: Executor, wanted: string, own: readonly string[]) {
  const code = wanted || mintCode().slice(0, 7)
  const read = linkCodeSchema.safeParse(code)
  if (!read.success) return { problem: read.error.issues[0]?.message ?? 'not a code' }
  const taken = !own.includes(code) && (await listRoutes(database)).some(r => r.code === code)
  return taken ? { problem: `the code ${code} is taken: choose another` } : { code }
}

/**
 * Keeps a saved link: its code leads on at once, former codes with it; its cost by hand is shared out over
 * its days; what it was before stays in its history.
 *
 * @param known the code under which it is kept so far; null for a new one
 * @returns what is wrong, or null when it is done
 */
export async function keepLink(
  database: Database,
  workspace: Workspace,
  wantedCode: string,
  known: string | null,
  { of, campaign, ad, ...form }: LinkForm,
  now: number,
): Promise<string | null> {
  const before = (await listSavedLinks(database, workspace.id)).find(l => l.code === known) ?? null
  if (known !== null && !before) return `There is no saved link ${known}.`
  const free = await freeCode(
    database,
    wantedCode.trim(),
    before ? [before.code, ...before.link.former_codes] : [],
  )
  if (free.problem !== undefined) return free.problem
  const { code } = free
  const minted = before?.link.ad.id ?? `p-${code}`
  const named = { id: before?.link.campaign.id ?? `o-${campaign.trim().toLowerCase()}`, name: campaign }
  const read = savedLinkSchema.safeParse({
    ...form,
    ...(of ?? { network: PLACEMENTS, campaign: named, ad_set: named, ad: { id: minted, name: ad } }),
    former_codes: before
      ? [...new Set([...before.link.former_codes, before.code])].filter(c => c !== code)
      : [],
    created_at: before?.link.created_at ?? new Date(now).toISOString(),
  })
  if (!read.success)
    return read.error.issues.map(i => `${i.path.join('.').replaceAll('_', ' ')}: ${i.message}`).join('\n')
  const link = read.data
  const landing = landingOf(link)
  if (!landing) return 'destination: write the whole address, with https://'
  await database.transaction(async inner => {
    if (isPlacement(link)) {
      const has = (await listProfiles(inner, workspace.id)).some(p => p.id === PLACEMENTS)
      if (!has) await saveProfile(inner, workspace.id, placements)
      const ids = { network: PLACEMENTS, campaignId: link.campaign.id }
      const today: Day = zoneClock(workspace.settings.time_zone)(now).day
      await saveEntities(
        inner,
        workspace.id,
        [
          { ...ids, level: 'campaign', ...link.campaign, adSetId: '' },
          { ...ids, level: 'ad_set', ...link.ad_set, adSetId: link.ad_set.id },
          { ...ids, level: 'ad', ...link.ad, adSetId: link.ad_set.id },
        ],
        formatDay(today),
      )
    }
    for (const one of [code, ...link.former_codes])
      await saveRoute(inner, {
        workspace: workspace.id,
        code: one,
        network: link.network,
        landings: [{ address: landing, weight: 1 }],
        offers: [],
        paused: false,
      })
    await saveLink(inner, workspace.id, { code, link }, before, new Date(now))
    const { cost } = link
    await saveHandCost(
      inner,
      workspace.id,
      link,
      cost?.currency ?? workspace.settings.currency,
      cost ? spreadCost(cost) : [],
    )
    // Its names are among the rules, what it cost is delivery.
    await raiseVersion(inner, workspace.id, 'rules', 'delivery')
  })
  await publishRoutes(database, workspace.id)
  return null
}

/**
 * Makes a link of the library what it was until an instant of its history; what it is now stays there.
 *
 * @returns what is wrong, or null when it is done
 */
export async function bringLinkBack(
  database: Database,
  workspace: Workspace,
  code: string,
  until: number,
  now: number,
): Promise<string | null> {
  const was = (await listLinkHistory(database, workspace.id, code)).find(({ at }) => at === until)
  if (!was) return 'Its history does not hold that. Load the page again and choose from the list.'
  const { former_codes: _, created_at: __, campaign, ad, ...link } = was.link
  const of = isPlacement(was.link) ? null : { network: link.network, campaign, ad_set: link.ad_set, ad }
  return keepLink(database, workspace, code, code, { ...link, campaign: campaign.name, ad: ad.name, of }, now)
}
