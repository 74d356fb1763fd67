import { type AssembledLink, assembleLink, type Sample } from '@/core/links/assemble'
import { nameFindings } from '@/core/links/names'
import type { TagPlan } from '@/core/links/plan'
import type { NetworkProfile, PlanLevel } from '@/core/links/profile'
import type { Executor } from '@/data/connect'
import { type AdEntity, listEntities, listNames, listPlans, listProfiles, planOf } from '@/data/workspace'
import { askPractice, isPractised } from './practice'
import { trackingAddress, trackingOrigin } from './routes'

/** Values that a real click would carry, for the preview. */
const sampleTokens: Record<string, string> = {
  placement: 'feed',
  keyword: 'table loom',
  match_type: 'phrase',
  device: 'phone',
  source: 's-104',
  topic: 'weaving',
  'click.id': 'x7k2m',
}

export function sampleOf(entities: readonly AdEntity[], ad: AdEntity): Sample {
  const named = (level: AdEntity['level'], id: string) => ({
    id,
    name: entities.find(e => e.network === ad.network && e.level === level && e.id === id)?.name ?? id,
  })
  return {
    campaign: named('campaign', ad.campaignId),
    ad_set: named('ad_set', ad.adSetId),
    ad: { id: ad.id, name: ad.name },
    ...sampleTokens,
  }
}

export interface DescribedLink {
  link: AssembledLink
  plan: TagPlan
  profile: NetworkProfile
  profiles: NetworkProfile[]
  /** what the browser needs to assemble the address again while the plan is edited */
  input: { destination: string; sample: Sample; hosts: string[] }
  landingPage: string | null
  /** whether the practice ground plays its network */
  practised: boolean
  path: { level: PlanLevel; id: string; name: string }[]
}

/** One ad's address as its network needs it, with plan, origins and findings. Null for an unknown ad. */
export async function describeLink(
  database: Executor,
  workspace: string,
  network: string,
  adId: string,
): Promise<DescribedLink | null> {
  const [entities, profiles, plans, names] = [
    await listEntities(database, workspace),
    await listProfiles(database, workspace),
    await listPlans(database, workspace),
    await listNames(database, workspace),
  ]
  const ad = entities.find(e => e.network === network && e.level === 'ad' && e.id === adId)
  const profile = profiles.find(p => p.id === network)
  if (!ad || !profile) return null
  const sample = sampleOf(entities, ad)
  const destination = ad.landingPage ? trackingAddress(network, ad.landingPage) : ''
  const hosts = [new URL(trackingOrigin()).hostname]
  const plan = planOf(plans, ad)
  const link = assembleLink({ profile, destination, plan, sample, hosts, otherProfiles: profiles })
  const path = [
    { level: 'account' as const, id: '', name: profile.name },
    { level: 'campaign' as const, id: ad.campaignId, name: sample.campaign?.name ?? '' },
    { level: 'ad_set' as const, id: ad.adSetId, name: sample.ad_set?.name ?? '' },
    { level: 'ad' as const, id: ad.id, name: ad.name },
  ]
  const renamed = nameFindings(
    path.slice(1).map(p => ({
      level: p.level,
      id: p.id,
      names: names
        .filter(n => n.network === network && n.level === p.level && n.id === p.id)
        .map(n => n.name),
    })),
    profile,
  ).filter(f => f.code === 'name_changed')
  return {
    link: { ...link, findings: [...link.findings, ...renamed] },
    plan,
    profile,
    profiles,
    input: { destination, sample, hosts },
    landingPage: ad.landingPage,
    practised: isPractised(network),
    path,
  }
}

/** Puts ads' addresses into a practice network's own form, as the marketer would paste them. */
export async function putOnPractice(
  database: Executor,
  workspace: string,
  network: string,
  adIds: readonly string[],
): Promise<boolean> {
  const ads = []
  for (const id of adIds) {
    const described = await describeLink(database, workspace, network, id)
    if (!described?.landingPage) continue
    const [, campaign, adSet, ad] = described.path
    const holding = (holds: 'address' | 'query') => {
      const field = described.profile.fields.find(f => f.holds === holds)?.id
      return (field && described.link.fields[field]) ?? ''
    }
    ads.push({
      campaign: named(campaign!),
      ad_set: named(adSet!),
      ad: named(ad!),
      destination: holding('address'),
      parameters: holding('query'),
    })
  }
  const taken = await askPractice(network, '/ads', { type: 'application/json', body: JSON.stringify(ads) })
  return taken?.status === 200
}
const named = ({ id, name }: { id: string; name: string }) => ({ id, name })
