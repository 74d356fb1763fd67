import type { LinkChange, Parameters } from '@/core/links/change'
import type { NewEntity } from '@/data/entities'

/** One ad as the agency left it: its name, where it leads, and what it sets itself. */
interface Left {
  name: string
  page: string
  own?: Parameters
}

const shop = 'https://tarnbrook.example/kits'
const wide = 'everything-that-a-beginner-could-ask-before-buying-a-loom-'

/** Every slip that a check of links can notice, each at an ad of its own. */
const left: Left[] = [
  { name: 'Warp speed', page: `${shop}?lang=pt?from=questions` },
  { name: 'Weft and wit', page: `${shop}#p2?lang=pt` },
  { name: 'First shuttle', page: `${shop}&lang=pt` },
  { name: 'Loom for two', page: `${shop}?utm_source=agency&lang=pt` },
  { name: 'Small rooms', page: shop, own: { utm_content: '{placement}' } },
  { name: 'Long evenings', page: shop, own: { utm_content: '[[ad_title]]' } },
  { name: 'Known by number', page: shop, own: { utm_campaign: '{campaign.id}' } },
  { name: 'New ad 3', page: shop },
  { name: 'Loom or frame', page: shop },
  { name: 'Loom or frame', page: shop },
  { name: 'Wool & linen + more', page: shop },
  { name: 'Plain page', page: 'http://tarnbrook.example/kits' },
  { name: 'Odd host', page: 'https://tarnbrok.example/kits' },
  { name: 'Whole story', page: shop, own: { utm_content: wide.repeat(36) } },
  { name: 'Nobody’s ad', page: shop, own: { utm_source: '' } },
  { name: 'No campaign', page: shop, own: { utm_campaign: '' } },
  { name: 'Tall letters', page: shop, own: { utm_content: 'Tall-Loom' } },
  { name: 'Written to', page: `${shop}?to=ines@tarnbrook.example` },
  { name: 'Roundabout', page: shop, own: { next: 'https://tarnbrook.example/?ad={ad.id}' } },
  { name: 'Not sent anywhere', page: '' },
  { name: 'Typed by hand', page: shop, own: { utm_content: '~topik~' } },
]

const whyfold = { network: 'whyfold', campaignId: 'wc200', adSetId: 'ws201' }
const guildpost = { network: 'guildpost', campaignId: 'gc200', adSetId: 'gs201' }

/** Ads that pass by the practice shop's worse addresses, each with what *Try it* finds there. */
const detours: [name: string, path: string][] = [
  ['By the old shop', '/old/kits'],
  ['By the winter page', '/winter'],
  ['By the short way', '/go/kits'],
  ['To a page that is gone', '/gone'],
  ['To a place that is gone', '/kits#spinning'],
]
const passing = { network: 'whyfold', campaignId: 'wc200', adSetId: 'ws301' }
/** Whether an ad is one of those: they are there to be tried, and not to bring shoppers. */
export const isPassing = ({ network, adSetId }: { network: string; adSetId: string }): boolean =>
  network === passing.network && adSetId === passing.adSetId
const passingAds: NewEntity[] = [
  { ...passing, level: 'ad_set', id: 'ws301', name: 'By way of the old shop' },
  ...detours.map(([name], i): NewEntity => ({ ...passing, level: 'ad', id: `wa${302 + i}`, name })),
]

/** Campaigns that were taken over from an agency, and of which nothing is spent yet. */
export const agencyEntities: NewEntity[] = [
  { ...whyfold, level: 'campaign', id: 'wc200', adSetId: '', name: 'Taken over from the agency' },
  { ...whyfold, level: 'ad_set', id: 'ws201', name: 'Questions about looms' },
  ...left.map(({ name }, i): NewEntity => ({ ...whyfold, level: 'ad', id: `wa${202 + i}`, name })),
  ...passingAds,
  { ...guildpost, level: 'campaign', id: 'gc200', adSetId: '', name: 'Schools' },
  { ...guildpost, level: 'ad_set', id: 'gs201', name: 'Weaving teachers' },
  { ...guildpost, level: 'ad', id: 'ga202', name: 'A class set of looms' },
  { ...guildpost, level: 'ad', id: 'ga203', name: 'Learn before you teach' },
]

const nowhere = { landingPage: null, straight: false }
const plan = (network: string, level: 'account' | 'ad', scope: string, after: Parameters): LinkChange => ({
  what: 'plan',
  network,
  level,
  scope,
  before: {},
  after,
})
const lead = (network: string, ad: string, landingPage: string, straight = true): LinkChange => ({
  what: 'ad',
  network,
  ad,
  before: nowhere,
  after: { landingPage, straight },
})

/** Where those ads lead in a shop: `http://…` without a path. */
export const passingLeads = (shop: string): LinkChange[] => [
  ...detours.map(([, path], i) => lead('whyfold', `wa${302 + i}`, shop + path)),
  // The page leads on to a partner's offer.
  lead('guildpost', 'ga203', `${shop}/course`, false),
]

export const agencyChanges: LinkChange[] = [
  plan('whyfold', 'account', '', {
    utm_source: 'whyfold',
    utm_campaign: '{campaign.name}',
    utm_content: '{ad.id}',
    topic: '{topic}',
  }),
  ...left.flatMap(({ page, own }, i) => [
    ...(page ? [lead('whyfold', `wa${202 + i}`, page)] : []),
    ...(own ? [plan('whyfold', 'ad', `wa${202 + i}`, own)] : []),
  ]),
  plan('guildpost', 'account', '', { utm_source: 'guildpost', utm_campaign: 'schools' }),
  plan('guildpost', 'ad', 'ga202', { utm_content: 'class-set' }),
  lead('guildpost', 'ga202', shop),
]
