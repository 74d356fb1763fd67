import type { LinkChange } from '@/core/links/change'
import { resolvePlan } from '@/core/links/plan'
import type { NetworkProfile } from '@/core/links/profile'
import { shippedProfiles } from '@/core/links/profiles'
import { parseTemplate } from '@/core/links/template'
import { DAY_MS } from '@/core/shared/days'
import type { Database } from '@/data/connect'
import { saveEntities } from '@/data/entities'
import { applyChanges } from '@/data/links'
import { listEntities } from '@/data/workspace'
import { agencyChanges, agencyEntities, passingLeads } from './agencyAds'

/** What each network's account adds to every ad's address. */
const plans: Record<string, Record<string, string>> = {
  norrfeed: {
    utm_source: 'norrfeed',
    utm_medium: 'paid-social',
    utm_campaign: '{campaign.name}',
    utm_term: '{ad_set.name}',
    utm_content: '{ad.id}',
    spot: '{placement}',
  },
  kelpie: {
    utm_source: 'kelpie',
    utm_medium: 'paid-search',
    utm_campaign: '{campaign.id}',
    utm_term: '{keyword}',
    utm_content: '{ad.id}',
  },
  mothwire: {
    utm_source: 'mothwire',
    utm_medium: 'paid-social',
    utm_campaign: '{campaign.name}',
    utm_content: '{ad.id}',
  },
}

type Row = Record<string, string | number>

/** What Norrfeed's Gift season sets beside its account: a value, another below, and none where it is removed. */
const overrides: { level: 'campaign' | 'ad_set' | 'ad'; name: string; set: Record<string, string> }[] = [
  { level: 'campaign', name: 'Gift season', set: { gift: 'yes' } },
  { level: 'ad_set', name: 'Cold reach, wide', set: { gift: '' } },
  { level: 'ad', name: 'A loom under the tree', set: { gift: 'tree' } },
]
const overriddenAt = (level: 'campaign' | 'ad_set' | 'ad', name: string) =>
  overrides.find(o => o.level === level && o.name === name)?.set ?? {}

/** The campaign that was renamed, and its name before. */
const RENAMED = { name: 'Gift season', before: 'Gifts', daysAgo: 3 }
const TAGGED_DAYS = 8

/** Delivery rows in which the renamed campaign still has its former name. */
export const withFormerName = (rows: readonly Row[], today: string): Row[] => {
  const since = new Date(Date.parse(today) - RENAMED.daysAgo * DAY_MS).toISOString().slice(0, 10)
  return rows.map(row =>
    row.campaign_name === RENAMED.name && String(row.date) < since
      ? { ...row, campaign_name: RENAMED.before }
      : row,
  )
}

/** A slip of the demo: whose clicks, which parameter, how often, and what arrives instead; null for nothing. */
const slips: {
  adSet?: string
  ad?: string
  campaign?: string
  key: string
  oneIn: number
  arrives: string | null
}[] = [
  { adSet: 'Knitters', key: 'utm_term', oneIn: 4, arrives: '[[adset_title]]' },
  { adSet: 'Gift for crafters', key: 'utm_term', oneIn: 7, arrives: '' },
  { campaign: 'Loom stories', key: 'utm_campaign', oneIn: 40, arrives: 'loom_stories_old' },
  { ad: 'Slow craft #3', key: 'spot', oneIn: 3, arrives: null },
]

/** The clicks of the last days with the address on which each landed, as its network filled it in. */
export function withLandingPages(clicks: readonly Row[], delivery: readonly Row[], now: number): Row[] {
  const names = new Map(delivery.map(row => [`${row.network}/${row.ad_id}`, row]))
  const from = now - TAGGED_DAYS * DAY_MS
  let count = 0
  return clicks.map(click => {
    const at = Date.parse(String(click.clicked_at))
    const named = names.get(`${click.network}/${click.ad_id}`)
    const profile = shippedProfiles.find(p => p.id === click.network)
    if (at < from || !named || !profile) return { ...click, landing_url: '' }
    count += 1
    const former = named.campaign_name === RENAMED.name && at < now - RENAMED.daysAgo * DAY_MS
    const query = queryOf(click, former ? { ...named, campaign_name: RENAMED.before } : named, profile, count)
    return { ...click, landing_url: `https://tarnbrook.example/kits?${query}` }
  })
}

function queryOf(click: Row, named: Row, profile: NetworkProfile, count: number): string {
  const values: Record<string, string | number | undefined> = {
    'campaign.id': click.campaign_id,
    'campaign.name': named.campaign_name,
    'ad_set.name': named.ad_set_name,
    'ad.id': click.ad_id,
    keyword: click.keyword,
    placement: click.placement,
  }
  const { parameters } = resolvePlan({
    account: plans[profile.id],
    campaign: overriddenAt('campaign', String(named.campaign_name).replace(RENAMED.before, RENAMED.name)),
    ad_set: overriddenAt('ad_set', String(named.ad_set_name)),
    ad: overriddenAt('ad', String(named.ad_name)),
  })
  return parameters
    .flatMap(({ key, template }) => {
      const slip = slips.find(
        s =>
          s.key === key &&
          count % s.oneIn === 0 &&
          [s.adSet ?? named.ad_set_name, s.ad ?? named.ad_name, s.campaign ?? named.campaign_name].join() ===
            [named.ad_set_name, named.ad_name, named.campaign_name].join(),
      )
      if (slip?.arrives === null) return []
      const meant = parseTemplate(template)
        .map(s => (s.kind === 'literal' ? s.text : (values[s.token] ?? '')))
        .join('')
      return [`${key}=${encodeURIComponent(slip?.arrives ?? meant)}`]
    })
    .join('&')
}

/** The demo's plans stood before its first day. */
export const beforeStory = (today: string): Date => new Date(Date.parse(today) - 120 * DAY_MS)

/** Every ad with its account's plan and its landing page, and what the agency left. */
export async function fillLinks(
  database: Database,
  workspace: string,
  landingPage: string,
  today: string,
): Promise<void> {
  const entities = (await listEntities(database, workspace)).filter(e => e.network in plans)
  const ads = entities.filter(e => e.level === 'ad')
  const nowhere = { landingPage: null, straight: false }
  await saveEntities(database, workspace, agencyEntities, today)
  await applyChanges(
    database,
    workspace,
    [
      ...Object.entries(plans).map(
        ([network, after]): LinkChange => ({
          what: 'plan',
          network,
          level: 'account',
          scope: '',
          before: {},
          after,
        }),
      ),
      ...entities.flatMap(({ network, level, id, name }): LinkChange[] =>
        overrides
          .filter(o => o.level === level && o.name === name)
          .map(({ set }) => ({ what: 'plan', network, level, scope: id, before: {}, after: set })),
      ),
      ...ads.map(
        ({ network, id }): LinkChange => ({
          what: 'ad',
          network,
          ad: id,
          before: nowhere,
          after: { landingPage, straight: false },
        }),
      ),
      ...agencyChanges,
      ...passingLeads(new URL(landingPage).origin),
    ],
    beforeStory(today),
  )
}
