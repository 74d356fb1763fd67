import {
  bigint,
  date,
  index,
  integer,
  json,
  jsonb,
  pgTable,
  primaryKey,
  text,
  timestamp,
} from 'drizzle-orm/pg-core'

/** Every key begins with the workspace; clicks, delivery and claims are keyed by day, so they can be partitioned. */
const workspace = () => text('workspace').notNull()
const at = (name: string) => timestamp(name, { withTimezone: true, mode: 'date' })
const units = (name: string) => bigint(name, { mode: 'number' })
const attributes = () => jsonb('attributes').$type<Record<string, string>>()

export const workspaces = pgTable('workspaces', {
  id: text('id').primaryKey(),
  name: text('name').notNull(),
  settings: jsonb('settings').notNull(),
  /** rises with every change of what is judged; what was worked out for another version is stale */
  version: bigint('version', { mode: 'number' }).notNull().default(0),
})

export const networkProfiles = pgTable(
  'network_profiles',
  { workspace: workspace(), id: text('id').notNull(), profile: jsonb('profile').notNull() },
  t => [primaryKey({ columns: [t.workspace, t.id] })],
)

/** Campaigns, ad sets and ads, as delivery reports name them. */
export const adEntities = pgTable(
  'ad_entities',
  {
    workspace: workspace(),
    network: text('network').notNull(),
    level: text('level', { enum: ['campaign', 'ad_set', 'ad'] }).notNull(),
    id: text('id').notNull(),
    campaignId: text('campaign_id').notNull(),
    adSetId: text('ad_set_id').notNull(),
    name: text('name').notNull(),
    /** the landing page of an ad */
    landingPage: text('landing_page'),
  },
  t => [primaryKey({ columns: [t.workspace, t.network, t.level, t.id] })],
)

/** Every name a campaign, ad set or ad was seen under, from which day. */
export const adEntityNames = pgTable(
  'ad_entity_names',
  {
    workspace: workspace(),
    network: text('network').notNull(),
    level: text('level').notNull(),
    id: text('id').notNull(),
    name: text('name').notNull(),
    firstDay: date('first_day').notNull(),
  },
  t => [primaryKey({ columns: [t.workspace, t.network, t.level, t.id, t.name] })],
)

/** The parameters set at one level of a network's tag plan; `scope` is the campaign, ad set or ad, empty for the account. */
export const tagPlans = pgTable(
  'tag_plans',
  {
    workspace: workspace(),
    network: text('network').notNull(),
    level: text('level', { enum: ['account', 'campaign', 'ad_set', 'ad'] }).notNull(),
    scope: text('scope').notNull().default(''),
    /** json and not jsonb: the order of the keys is the order in the address */
    parameters: json('parameters').$type<Record<string, string>>().notNull(),
  },
  t => [primaryKey({ columns: [t.workspace, t.network, t.level, t.scope] })],
)

/** Codes of the tracking domain: where a click that carries one is sent. */
export const routes = pgTable(
  'routes',
  {
    workspace: workspace(),
    code: text('code').notNull().unique(),
    network: text('network').notNull(),
    destination: text('destination').notNull(),
  },
  t => [primaryKey({ columns: [t.workspace, t.code] })],
)

export const delivery = pgTable(
  'delivery',
  {
    workspace: workspace(),
    day: date('day').notNull(),
    network: text('network').notNull(),
    campaign_id: text('campaign_id').notNull(),
    ad_set_id: text('ad_set_id').notNull(),
    ad_id: text('ad_id').notNull(),
    /** keyword, placement, source and device, where a report splits by them */
    segment: text('segment').notNull(),
    currency: text('currency').notNull(),
    spend: units('spend').notNull(),
    impressions: units('impressions').notNull(),
    clicks: units('clicks').notNull(),
    campaign_name: text('campaign_name'),
    ad_set_name: text('ad_set_name'),
    ad_name: text('ad_name'),
    attributes: attributes(),
  },
  t => [
    primaryKey({ columns: [t.workspace, t.day, t.network, t.campaign_id, t.ad_set_id, t.ad_id, t.segment] }),
  ],
)

export const clicks = pgTable(
  'clicks',
  {
    workspace: workspace(),
    day: date('day').notNull(),
    click_id: text('click_id').notNull(),
    clicked_at: at('clicked_at').notNull(),
    network: text('network').notNull(),
    campaign_id: text('campaign_id'),
    ad_set_id: text('ad_set_id'),
    ad_id: text('ad_id'),
    visitor_id: text('visitor_id'),
    network_click_id: text('network_click_id'),
    landing_url: text('landing_url'),
    device: text('device'),
    placement: text('placement'),
    keyword: text('keyword'),
    match_type: text('match_type'),
    source: text('source'),
    country: text('country'),
    attributes: attributes(),
    arrived_at: at('arrived_at').notNull().defaultNow(),
  },
  t => [
    primaryKey({ columns: [t.workspace, t.day, t.click_id] }),
    index('clicks_by_arrival').on(t.workspace, t.arrived_at),
  ],
)

export const visitors = pgTable(
  'visitors',
  {
    workspace: workspace(),
    visitor_id: text('visitor_id').notNull(),
    first_seen: at('first_seen').notNull(),
    last_seen: at('last_seen').notNull(),
  },
  t => [primaryKey({ columns: [t.workspace, t.visitor_id] })],
)

export const orders = pgTable(
  'orders',
  {
    workspace: workspace(),
    order_id: text('order_id').notNull(),
    ordered_at: at('ordered_at').notNull(),
    status: text('status').notNull(),
    result: text('result').notNull(),
    currency: text('currency').notNull(),
    total: units('total').notNull(),
    tax: units('tax').notNull(),
    shipping: units('shipping').notNull(),
    refunded: units('refunded').notNull(),
    customer_id: text('customer_id'),
    visitor_id: text('visitor_id'),
    click_id: text('click_id'),
    landing_url: text('landing_url'),
    utm_source: text('utm_source'),
    utm_medium: text('utm_medium'),
    utm_campaign: text('utm_campaign'),
    utm_term: text('utm_term'),
    utm_content: text('utm_content'),
    attributes: attributes(),
    arrived_at: at('arrived_at').notNull().defaultNow(),
  },
  t => [
    primaryKey({ columns: [t.workspace, t.order_id] }),
    index('orders_by_time').on(t.workspace, t.ordered_at),
  ],
)

/** Single claims. `claim_key` is the row's content and how often the file held the same before it. */
export const claimRows = pgTable(
  'claim_rows',
  {
    workspace: workspace(),
    day: date('day').notNull(),
    claim_key: text('claim_key').notNull(),
    date: date('date'),
    claimed_at: at('claimed_at').notNull(),
    network: text('network').notNull(),
    ad_id: text('ad_id').notNull(),
    conversion: text('conversion').notNull(),
    kind: text('kind').notNull(),
    transaction_id: text('transaction_id'),
    click_id: text('click_id'),
    value: text('value'),
    currency: text('currency'),
    attributes: attributes(),
    arrived_at: at('arrived_at').notNull().defaultNow(),
  },
  t => [primaryKey({ columns: [t.workspace, t.day, t.claim_key] })],
)

/** Claims as a network sums them. */
export const claimSums = pgTable(
  'claim_sums',
  {
    workspace: workspace(),
    day: date('day').notNull(),
    network: text('network').notNull(),
    ad_id: text('ad_id').notNull(),
    conversion: text('conversion').notNull(),
    click_through: integer('click_through').notNull(),
    view_through: integer('view_through').notNull(),
    value: text('value'),
    currency: text('currency'),
    attributes: attributes(),
  },
  t => [primaryKey({ columns: [t.workspace, t.day, t.network, t.ad_id, t.conversion] })],
)

export const rates = pgTable(
  'rates',
  {
    workspace: workspace(),
    day: date('day').notNull(),
    base: text('base').notNull(),
    quote: text('quote').notNull(),
    rate: text('rate').notNull(),
    attributes: attributes(),
  },
  t => [primaryKey({ columns: [t.workspace, t.day, t.base, t.quote] })],
)

export const importBatches = pgTable(
  'import_batches',
  {
    workspace: workspace(),
    id: text('id').notNull(),
    kind: text('kind').notNull(),
    file: text('file').notNull(),
    imported_at: at('imported_at').notNull(),
    accepted: integer('accepted').notNull(),
    duplicates: integer('duplicates').notNull(),
    rejected: integer('rejected').notNull(),
  },
  t => [primaryKey({ columns: [t.workspace, t.id] })],
)

export const rejects = pgTable(
  'rejects',
  {
    workspace: workspace(),
    batch: text('batch').notNull(),
    number: integer('number').notNull(),
    line: integer('line').notNull(),
    column: text('column').notNull(),
    reason: text('reason').notNull(),
    value: text('value'),
  },
  t => [primaryKey({ columns: [t.workspace, t.batch, t.number] })],
)

/** How far each collector's journal has been taken in; moves in the transaction that stores the records. */
export const drainPositions = pgTable('drain_positions', {
  journal: text('journal').primaryKey(),
  segment: text('segment').notNull(),
  offset: bigint('offset', { mode: 'number' }).notNull(),
})
