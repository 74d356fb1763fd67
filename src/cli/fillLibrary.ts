import { namingRuleSchema } from '@/core/links/naming'
import { DAY_MS } from '@/core/shared/days'
import type { Database } from '@/data/connect'
import { saveEntities } from '@/data/entities'
import { applyChanges } from '@/data/links'
import { saveNamingRule } from '@/data/namingRules'
import type { Workspace } from '@/data/workspace'
import { randomStream } from '@/practice/market/random'
import { keepLink, type LinkForm } from '@/server/links/library'
import { beforeStory } from './fillLinks'

type Row = Record<string, string | number>
const SEED = 77
const DAYS = 20

/** Who clicked where beside the networks: in a newsletter, on a banner. */
const visits = [
  { network: 'placements', campaign: 'o-october newsletter', ad: 'p-oct', clicks: 84, orders: 5 },
  { network: 'placements', campaign: 'o-craft fair', ad: 'p-fair', clicks: 31, orders: 1 },
]

/** Clicks and orders of those visits in the last days. */
export function visitRows(now: number): { clicks: Row[]; orders: Row[] } {
  const random = randomStream(SEED)
  const clicks: Row[] = []
  const orders: Row[] = []
  for (const { network, campaign, ad, clicks: number, orders: bought } of visits)
    for (let i = 0; i < number; i++) {
      const at = Math.floor(now - random.between(0.5, DAYS) * DAY_MS)
      const click: Row = {
        click_id: `x${at.toString(36)}${random.code(6)}`,
        clicked_at: new Date(at).toISOString(),
        network,
        campaign_id: campaign,
        ad_set_id: campaign,
        ad_id: ad,
        visitor_id: `v${random.code(10)}`,
        device: random.chance(0.7) ? 'phone' : 'desktop',
      }
      clicks.push(click)
      if (i < bought)
        orders.push({
          order_id: `X${random.code(6)}`,
          ordered_at: new Date(at + 900_000).toISOString(),
          status: 'paid',
          currency: 'EUR',
          total: random.chance(0.5) ? '149.00' : '54.00',
          visitor_id: click.visitor_id!,
          click_id: click.click_id!,
        })
    }
  return { clicks, orders }
}

/** Further saved links: code, title, occasion, for whom, source, and cost in cents. */
const more: [
  code: string,
  title: string,
  campaign: string,
  made_for: string,
  source: string,
  cost: number,
][] = [
  ['nov', 'November newsletter, looms', 'November newsletter', 'Rui, who writes it', 'newsletter', 0],
  ['nov2', 'November newsletter, yarn', 'November newsletter', 'Rui, who writes it', 'newsletter', 0],
  ['parcelcard', 'Card in every parcel', 'Parcel card', 'packing', 'parcel', 6_000],
  ['guildmag', 'Half a page in the guild’s paper', 'Guild paper', 'Inês', 'guild-paper', 18_000],
  ['radio', 'Read out on the craft hour', 'Craft hour', 'Inês', 'radio', 9_500],
  ['weavers', 'Link of the weavers’ circle', 'Weavers’ circle', 'the circle', 'weavers-circle', 0],
]

const day = (now: number, ago: number) => new Date(now - ago * DAY_MS).toISOString().slice(0, 10)

/** Eight saved links, Parkfold's campaigns, and the rule by which those are named. */
export async function fillLibrary(
  database: Database,
  workspace: Workspace,
  shop: string,
  now: number,
): Promise<void> {
  const common = { of: null, network: 'placements', archived: false }
  const links: [code: string, LinkForm][] = [
    [
      'oct',
      {
        ...common,
        title: 'October newsletter, first picture',
        campaign: 'October newsletter',
        ad: 'October newsletter, first picture',
        made_for: 'Rui, who writes it',
        note: 'Goes out on the first Thursday.',
        destination: shop,
        parameters: { utm_source: 'newsletter', utm_medium: 'email', utm_campaign: 'october' },
        cost: null,
      },
    ],
    [
      'fair',
      {
        ...common,
        title: 'Banner at the craft fair',
        campaign: 'Craft fair',
        ad: 'Banner at the craft fair',
        made_for: 'the fair',
        note: 'One price for three weeks, stand included.',
        destination: `${shop}?from=fair`,
        parameters: { utm_source: 'craft-fair', utm_medium: 'print' },
        cost: { amount: 24_000, currency: 'EUR', from: day(now, DAYS), to: day(now, 1) },
      },
    ],
    ...more.map(([code, title, campaign, made_for, source, cost]): [string, LinkForm] => [
      code,
      {
        ...common,
        title,
        campaign,
        ad: title,
        made_for,
        note: '',
        destination: shop,
        parameters: { utm_source: source, utm_medium: 'placement', utm_campaign: campaign.toLowerCase() },
        cost: cost === 0 ? null : { amount: cost, currency: 'EUR', from: day(now, DAYS), to: day(now, 1) },
      },
    ]),
  ]
  for (const [code, form] of links) await keepLink(database, workspace, code, null, form, now - DAYS * DAY_MS)
  const parkfold = { network: 'parkfold', campaignId: 'pc100' }
  await saveEntities(
    database,
    workspace.id,
    [
      { ...parkfold, level: 'campaign', id: 'pc100', adSetId: '', name: 'looms_domains_2026-10' },
      {
        network: 'parkfold',
        campaignId: 'pc110',
        level: 'campaign',
        id: 'pc110',
        adSetId: '',
        name: 'Yarn - domains - Oct 26',
      },
      {
        network: 'parkfold',
        campaignId: 'pc120',
        level: 'campaign',
        id: 'pc120',
        adSetId: '',
        name: 'lomms_domains_2026-11',
      },
      { ...parkfold, level: 'ad_set', id: 'pc100', adSetId: 'pc100', name: 'looms_domains_2026-10' },
      { ...parkfold, level: 'ad', id: 'pa102', adSetId: 'pc100', name: 'Weaving names' },
    ],
    day(now, 0),
  )
  await applyChanges(
    database,
    workspace.id,
    [
      {
        what: 'plan',
        network: 'parkfold',
        level: 'account',
        scope: '',
        before: {},
        after: { utm_source: 'parkfold', utm_campaign: '{campaign.id}', source: '{source}' },
      },
      {
        what: 'ad',
        network: 'parkfold',
        ad: 'pa102',
        before: { landingPage: null, straight: false },
        after: { landingPage: shop, straight: false },
      },
    ],
    beforeStory(day(now, 0)),
  )
  await saveNamingRule(
    database,
    workspace.id,
    'campaigns',
    namingRuleSchema.parse({
      level: 'campaign',
      networks: ['norrfeed', 'kelpie', 'mothwire'],
      separator: ' ',
      parts: [
        { name: 'theme', kind: 'text' },
        { name: 'kind', kind: 'list', values: ['kits', 'refill', 'search', 'season', 'stories'] },
      ],
    }),
  )
  await saveNamingRule(
    database,
    workspace.id,
    'parkfold-campaigns',
    namingRuleSchema.parse({
      level: 'campaign',
      networks: ['parkfold'],
      separator: '_',
      parts: [
        { name: 'product', kind: 'list', values: ['looms', 'yarn', 'course'] },
        { name: 'audience', kind: 'text' },
        { name: 'month', kind: 'month' },
      ],
    }),
  )
}
