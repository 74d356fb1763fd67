import { isNotNull, isNull, sql } from 'drizzle-orm'
import {
  bigint,
  boolean,
  date,
  doublePrecision,
  index,
  integer,
  json,
  jsonb,
  pgTable,
  pgView,
  primaryKey,
  text,
  timestamp,
} from 'drizzle-orm/pg-core'
import { saleStatuses } from '@/core/intake/postback'
import { claimKinds, orderStatuses } from '@/core/intake/records'
import type { Branch, Offer, Secret } from '@/core/intake/routing'
import { namedLevels } from '@/core/links/naming'
import { planLevels } from '@/core/links/profile'
import { changeKinds } from '@/core/shared/changeKind'
import type { OutgoingValues, Try } from '@/core/signals/outgoing'

/** Every key begins with the workspace; clicks, delivery and claims are keyed by day, so they can be partitioned. */
const workspace = () => text('workspace').notNull()
const at = (name: string) => timestamp(name, { withTimezone: true, mode: 'date' })
const units = (name: string) => bigint(name, { mode: 'number' })
const attributes = () => jsonb('attributes').$type<Record<string, string>>()

/** The version of its workspace at which a row was written last: what is newer than a version is read by it. */
const revision = () => bigint('revision', { mode: 'number' }).notNull().default(0)

/** When an address of the tracking domain was given out: of two workspaces that have the same, it is the first one's. */
const givenAt = () => at('given_at').notNull().defaultNow()

export const workspaces = pgTable('workspaces', {
  id: text('id').primaryKey(),
  name: text('name').notNull(),
  settings: jsonb('settings').notNull(),
  /** rises with every change of what is judged; what was worked out for another version is stale */
  version: bigint('version', { mode: 'number' }).notNull().default(0),
  /** the version at which each part that is read as a whole last changed (`Part` in workspace.ts) */
  changed: jsonb('changed').$type<Partial<Record<string, number>>>().notNull().default({}),
  /** rises with every arrival that is only shown, and that no figure stands on */
  shown: bigint('shown', { mode: 'number' }).notNull().default(0),
  /** by what the snapshot of the engine that is of these very records is known (server/compute/snapshot.ts) */
  snapshot: text('snapshot'),
  /** rises with every change of what collectors answer by */
  routing: bigint('routing', { mode: 'number' }).notNull().default(0),
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
    level: text('level', { enum: namedLevels }).notNull(),
    id: text('id').notNull(),
    campaignId: text('campaign_id').notNull(),
    adSetId: text('ad_set_id').notNull(),
    name: text('name').notNull(),
    /** the landing page of an ad */
    landingPage: text('landing_page'),
    /** whether clicks go to the landing page without passing the tracking domain */
    straight: boolean('straight').notNull().default(false),
    /** the address that stands at the network, as it was last put or read there */
    placed: text('placed'),
  },
  t => [primaryKey({ columns: [t.workspace, t.network, t.level, t.id] })],
)

/** Every name a campaign, ad set or ad was seen under, from which day. */
export const adEntityNames = pgTable(
  'ad_entity_names',
  {
    workspace: workspace(),
    network: text('network').notNull(),
    level: text('level', { enum: namedLevels }).notNull(),
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
    level: text('level', { enum: planLevels }).notNull(),
    scope: text('scope').notNull().default(''),
    /** json and not jsonb: the order of the keys is the order in the address */
    parameters: json('parameters').$type<Record<string, string>>().notNull(),
  },
  t => [primaryKey({ columns: [t.workspace, t.network, t.level, t.scope] })],
)

/**
 * What each level of a tag plan set, and since when: links that were pasted under an earlier plan are read by it.
 * `tag_plans` is the latest of each.
 */
export const tagPlanVersions = pgTable(
  'tag_plan_versions',
  {
    workspace: workspace(),
    network: text('network').notNull(),
    level: text('level', { enum: planLevels }).notNull(),
    scope: text('scope').notNull().default(''),
    since: at('since').notNull(),
    parameters: json('parameters').$type<Record<string, string>>().notNull(),
  },
  t => [primaryKey({ columns: [t.workspace, t.network, t.level, t.scope, t.since] })],
)

/** Codes of the tracking domain: where a click that carries one is sent. */
export const routes = pgTable(
  'routes',
  {
    workspace: workspace(),
    code: text('code').notNull(),
    network: text('network').notNull(),
    landings: jsonb('landings').$type<Branch[]>().notNull().default([]),
    offers: jsonb('offers').$type<Offer[]>().notNull().default([]),
    paused: boolean('paused').notNull().default(false),
    given_at: givenAt(),
  },
  t => [primaryKey({ columns: [t.workspace, t.code] })],
)

/** Links that somebody saved on a code of the tracking domain, with what is known of each; json, as parameters have an order. */
export const savedLinks = pgTable(
  'saved_links',
  { workspace: workspace(), code: text('code').notNull(), link: json('link').notNull() },
  t => [primaryKey({ columns: [t.workspace, t.code] })],
)

/** What a saved link was before each change, so that it can be looked up and brought back. */
export const savedLinkHistory = pgTable(
  'saved_link_history',
  {
    workspace: workspace(),
    code: text('code').notNull(),
    at: at('at').notNull(),
    link: json('link').notNull(),
  },
  t => [primaryKey({ columns: [t.workspace, t.code, t.at] })],
)

/** Rules by which names of campaigns, ad sets and ads are made up. */
export const namingRules = pgTable(
  'naming_rules',
  { workspace: workspace(), id: text('id').notNull(), rule: jsonb('rule').notNull() },
  t => [primaryKey({ columns: [t.workspace, t.id] })],
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
    /** kept and marked, not counted: made by a program, or the same visitor's click again at once */
    bot: boolean('bot').notNull().default(false),
    repeated: boolean('repeated').notNull().default(false),
    attributes: attributes(),
    arrived_at: at('arrived_at').notNull().defaultNow(),
    revision: revision(),
  },
  t => [
    primaryKey({ columns: [t.workspace, t.day, t.click_id] }),
    index('clicks_by_arrival').on(t.workspace, t.arrived_at),
    index('clicks_by_revision').on(t.workspace, t.revision),
    index('clicks_by_id').on(t.workspace, t.click_id),
    index('clicks_by_visitor').on(t.workspace, t.visitor_id).where(isNotNull(t.visitor_id)),
    index('clicks_by_network_id').on(t.workspace, t.network_click_id).where(isNotNull(t.network_click_id)),
    index('clicks_unread').on(t.workspace, t.network).where(sql`${t.attributes} ? 'unknown'`),
  ],
)

/** Who clicked, since when: told by the clicks themselves, so that nothing has to be kept in step. */
export const visitors = pgView('visitors').as(query =>
  query
    .select({
      workspace: clicks.workspace,
      visitor_id: clicks.visitor_id,
      first_seen: sql<Date>`min(${clicks.clicked_at})`.as('first_seen'),
      last_seen: sql<Date>`max(${clicks.clicked_at})`.as('last_seen'),
    })
    .from(clicks)
    .where(isNotNull(clicks.visitor_id))
    .groupBy(clicks.workspace, clicks.visitor_id),
)

export const orders = pgTable(
  'orders',
  {
    workspace: workspace(),
    order_id: text('order_id').notNull(),
    ordered_at: at('ordered_at').notNull(),
    status: text('status', { enum: orderStatuses }).notNull(),
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
    /** by which way it came, where the shop says it */
    channel: text('channel'),
    /** what kind of products it is of, where margins differ by it */
    product_group: text('product_group'),
    /** when the shop last said something of it: an older word never overrides a newer one */
    changed_at: at('changed_at'),
    attributes: attributes(),
    arrived_at: at('arrived_at').notNull().defaultNow(),
    revision: revision(),
  },
  t => [
    primaryKey({ columns: [t.workspace, t.order_id] }),
    index('orders_by_revision').on(t.workspace, t.revision),
    index('orders_by_time').on(t.workspace, t.ordered_at),
    index('orders_by_arrival').on(t.workspace, t.arrived_at),
  ],
)

/** Events that the tag reports, in the shop's or landing page's browser. */
export const events = pgTable(
  'events',
  {
    workspace: workspace(),
    day: date('day').notNull(),
    event_id: text('event_id').notNull(),
    at: at('at').notNull(),
    name: text('name').notNull(),
    page: text('page'),
    referrer: text('referrer'),
    visitor_id: text('visitor_id'),
    click_id: text('click_id'),
    value: text('value'),
    currency: text('currency'),
    transaction_id: text('transaction_id'),
    country: text('country'),
    bot: boolean('bot').notNull().default(false),
    attributes: attributes(),
    arrived_at: at('arrived_at').notNull().defaultNow(),
    revision: revision(),
  },
  t => [
    primaryKey({ columns: [t.workspace, t.day, t.event_id] }),
    index('told_results').on(t.workspace, t.revision).where(sql`${t.attributes} ? 'rule'`),
    index('events_by_arrival').on(t.workspace, t.arrived_at),
    index('signs_of_orders').on(t.workspace, t.transaction_id).where(sql`${t.attributes} ? 'rule'`),
  ],
)

/** Clicks that went on from a landing page to an offer. */
export const hops = pgTable(
  'hops',
  {
    workspace: workspace(),
    day: date('day').notNull(),
    hop_id: text('hop_id').notNull(),
    at: at('at').notNull(),
    code: text('code').notNull(),
    click_id: text('click_id'),
    visitor_id: text('visitor_id'),
    offer: text('offer').notNull(),
    bot: boolean('bot').notNull().default(false),
    attributes: attributes(),
    arrived_at: at('arrived_at').notNull().defaultNow(),
  },
  t => [
    primaryKey({ columns: [t.workspace, t.day, t.hop_id] }),
    index('hops_by_arrival').on(t.workspace, t.arrived_at),
    index('hops_by_click').on(t.workspace, t.click_id).where(isNotNull(t.click_id)),
  ],
)

/** Partners that send postbacks: how they write them, and the code of their address. */
export const partners = pgTable(
  'partners',
  {
    workspace: workspace(),
    id: text('id').notNull(),
    code: text('code').notNull(),
    partner: jsonb('partner').notNull(),
    secret: jsonb('secret').$type<Secret>(),
    given_at: givenAt(),
  },
  t => [primaryKey({ columns: [t.workspace, t.id] })],
)

/** Postbacks as they came, each with the deal that it was about. */
export const postbacks = pgTable(
  'postbacks',
  {
    workspace: workspace(),
    day: date('day').notNull(),
    postback_id: text('postback_id').notNull(),
    at: at('at').notNull(),
    partner: text('partner').notNull(),
    query: text('query').notNull(),
    deal: text('deal'),
    click_id: text('click_id'),
    status: text('status'),
    attributes: attributes(),
    arrived_at: at('arrived_at').notNull().defaultNow(),
  },
  t => [
    primaryKey({ columns: [t.workspace, t.day, t.postback_id] }),
    index('postbacks_by_arrival').on(t.workspace, t.arrived_at),
    index('postbacks_by_deal').on(t.workspace, t.partner, t.deal),
  ],
)

/** A partner's sales, one a deal, as its latest postback has it. */
export const sales = pgTable(
  'sales',
  {
    workspace: workspace(),
    partner: text('partner').notNull(),
    deal: text('deal').notNull(),
    click_id: text('click_id'),
    amount: units('amount'),
    currency: text('currency').notNull(),
    status: text('status', { enum: saleStatuses }).notNull(),
    sub_ids: jsonb('sub_ids').$type<Record<string, string>>().notNull(),
    first_at: at('first_at').notNull(),
    changed_at: at('changed_at').notNull(),
  },
  t => [primaryKey({ columns: [t.workspace, t.partner, t.deal] })],
)

/** What was rejected or could not be placed: kept with its reason until somebody mends or drops it. */
export const setAside = pgTable(
  'set_aside',
  {
    workspace: workspace(),
    id: text('id').notNull(),
    kind: text('kind').notNull(),
    at: at('at').notNull(),
    reason: text('reason').notNull(),
    /** what the reason is about: alike are those with the same reason and facts */
    facts: jsonb('facts').$type<Record<string, string>>().notNull(),
    raw: text('raw').notNull(),
    /** how it was settled: taken in, or dropped */
    settled: text('settled', { enum: ['taken', 'dropped'] }),
    /** the same for all that are alike, so that a hundred thousand are counted by an index; lines differ only in place */
    alike: text('alike').generatedAlwaysAs(
      sql`md5(kind || ' ' || reason || ' ' || case when kind = 'line' then '{}' else facts::text end)`,
    ),
  },
  t => [
    primaryKey({ columns: [t.workspace, t.id] }),
    index('set_aside_waiting').on(t.workspace, t.alike, t.at).where(isNull(t.settled)),
  ],
)

/** Sites whose pages carry the tag; the key stands in the tag. */
export const sites = pgTable(
  'sites',
  { workspace: workspace(), key: text('key').notNull(), given_at: givenAt() },
  t => [primaryKey({ columns: [t.workspace, t.key] })],
)

/** What counts for the business: one definition a result. Archived, never removed. */
export const results = pgTable(
  'results',
  { workspace: workspace(), id: text('id').notNull(), definition: jsonb('definition').notNull() },
  t => [primaryKey({ columns: [t.workspace, t.id] })],
)

/** Rules by which the tag tells results. */
export const rules = pgTable(
  'rules',
  { workspace: workspace(), id: text('id').notNull(), rule: jsonb('rule').notNull() },
  t => [primaryKey({ columns: [t.workspace, t.id] })],
)

/** The network's own name of a result: the event slot that it is mapped onto. */
export const signals = pgTable(
  'signals',
  {
    workspace: workspace(),
    network: text('network').notNull(),
    result: text('result').notNull(),
    slot: text('slot').notNull(),
  },
  t => [primaryKey({ columns: [t.workspace, t.network, t.result] })],
)

/** What the server tells networks, one row for each network and event; what was sent holds no secret. */
/** `unconfirmed` waits for the shop's word, and `no_click` for the click that a browser may still tell. */
const relayStates = ['waiting', 'taken', 'refused', 'no_click', 'held_back', 'unconfirmed'] as const

export const relays = pgTable(
  'relays',
  {
    workspace: workspace(),
    network: text('network').notNull(),
    event_id: text('event_id').notNull(),
    result: text('result').notNull(),
    /** when it came about */
    at: at('at').notNull(),
    /** the facts of the event by the places of an outgoing request */
    facts: jsonb('facts').$type<OutgoingValues>().notNull(),
    state: text('state', { enum: relayStates }).notNull(),
    next_at: at('next_at').notNull(),
    tries: jsonb('tries').$type<Try[]>().notNull().default([]),
    /** the live test that it belongs to */
    test: text('test'),
  },
  t => [
    primaryKey({ columns: [t.workspace, t.network, t.event_id] }),
    index('relays_due').on(t.state, t.next_at),
  ],
)

/** Live tests: visits of our own that are watched as they happen. */
export const liveTests = pgTable(
  'live_tests',
  {
    workspace: workspace(),
    token: text('token').notNull(),
    /** the page on which it begins */
    address: text('address').notNull(),
    started_at: at('started_at').notNull(),
    ended_at: at('ended_at'),
  },
  t => [primaryKey({ columns: [t.workspace, t.token] })],
)

/** What arrived in a live test. It stands in no other table, so that it can count nowhere. */
export const testRecords = pgTable(
  'test_records',
  {
    workspace: workspace(),
    token: text('token').notNull(),
    id: text('id').notNull(),
    at: at('at').notNull(),
    kind: text('kind', { enum: ['click', 'event', 'observation'] }).notNull(),
    /** the record as it came */
    record: jsonb('record').notNull(),
    transaction_id: text('transaction_id'),
  },
  t => [primaryKey({ columns: [t.workspace, t.token, t.id] })],
)

/** Ordered steps that shoppers go through, each a result or a page. */
export const journeys = pgTable(
  'journeys',
  { workspace: workspace(), id: text('id').notNull(), journey: jsonb('journey').notNull() },
  t => [primaryKey({ columns: [t.workspace, t.id] })],
)

/** What was settled by hand, with who did it, when and why; one that is undone stays. */
export const decisions = pgTable(
  'decisions',
  {
    workspace: workspace(),
    id: text('id').notNull(),
    decision: jsonb('decision').notNull(),
    at: at('at').notNull(),
    undone_at: at('undone_at'),
  },
  t => [primaryKey({ columns: [t.workspace, t.id] })],
)

/** What somebody changed of how things are counted, tagged and told, by day: marks on lines of time. */
export const changes = pgTable(
  'changes',
  {
    workspace: workspace(),
    day: date('day').notNull(),
    what: text('what', { enum: changeKinds }).notNull(),
    /** its name, or which setting */
    about: text('about').notNull(),
  },
  t => [primaryKey({ columns: [t.workspace, t.day, t.what, t.about] })],
)

/** Budgets that somebody decided to change, in the lists that were decided upon together. */
export const moveLists = pgTable(
  'move_lists',
  {
    workspace: workspace(),
    id: text('id').notNull(),
    at: at('at').notNull(),
    list: jsonb('list').notNull(),
    /** networks to which it was applied, each with when; only those that can be told by us */
    applied: jsonb('applied').$type<Record<string, string>>().notNull().default({}),
    undone_at: at('undone_at'),
  },
  t => [primaryKey({ columns: [t.workspace, t.id] })],
)

/** Secrets by name, apart from everything that is exported. */
export const secrets = pgTable(
  'secrets',
  {
    workspace: workspace(),
    name: text('name').notNull(),
    value: text('value').notNull(),
    /** a replaced one is valid until then */
    until: at('until'),
  },
  t => [primaryKey({ columns: [t.workspace, t.name] })],
)

/** IDs of signed messages that were taken: one sent again is a replay. */
export const webhookMessages = pgTable(
  'webhook_messages',
  { workspace: workspace(), id: text('id').notNull(), at: at('at').notNull() },
  t => [primaryKey({ columns: [t.workspace, t.id] })],
)

/** How a network's report names our columns, as somebody settled it. */
export const reportMappings = pgTable(
  'report_mappings',
  { workspace: workspace(), network: text('network').notNull(), mapping: jsonb('mapping').notNull() },
  t => [primaryKey({ columns: [t.workspace, t.network] })],
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
    kind: text('kind', { enum: claimKinds }).notNull(),
    transaction_id: text('transaction_id'),
    click_id: text('click_id'),
    value: text('value'),
    currency: text('currency'),
    attributes: attributes(),
    arrived_at: at('arrived_at').notNull().defaultNow(),
    revision: revision(),
  },
  t => [
    primaryKey({ columns: [t.workspace, t.day, t.claim_key] }),
    index('claim_rows_by_revision').on(t.workspace, t.revision),
  ],
)

/** Claims as a network sums them. */
export const claimSums = pgTable(
  'claim_sums',
  {
    workspace: workspace(),
    day: date('day').notNull(),
    network: text('network').notNull(),
    /** the lowest level that the network reports is named, those above it only where an ID of it is no ad's */
    campaign_id: text('campaign_id').notNull().default(''),
    ad_set_id: text('ad_set_id').notNull().default(''),
    ad_id: text('ad_id').notNull(),
    conversion: text('conversion').notNull(),
    /** in thousandths of a conversion at the finest */
    click_through: doublePrecision('click_through').notNull(),
    view_through: doublePrecision('view_through').notNull(),
    value: text('value'),
    currency: text('currency'),
    attributes: attributes(),
  },
  t => [
    primaryKey({
      name: 'claim_sums_pk',
      columns: [t.workspace, t.day, t.network, t.campaign_id, t.ad_set_id, t.ad_id, t.conversion],
    }),
  ],
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
    /** the network of a report, which one that stands in the file itself does not have */
    network: text('network'),
    /** stopped by hand before its end */
    cancelled: boolean('cancelled').notNull().default(false),
    undone_at: at('undone_at'),
  },
  t => [primaryKey({ columns: [t.workspace, t.id] })],
)

/** What rows were before an import wrote them, by which it is undone: those of some keys, in the order of writing. */
export const importLog = pgTable(
  'import_log',
  {
    id: bigint('id', { mode: 'number' }).primaryKey().generatedAlwaysAsIdentity(),
    workspace: workspace(),
    batch: text('batch').notNull(),
    at: at('at').notNull().defaultNow(),
    table_name: text('table_name').notNull(),
    /** the keys of the rows that were written, and those of them that were there, whole */
    keys: jsonb('keys').$type<Record<string, unknown>[]>().notNull(),
    rows: jsonb('rows').$type<Record<string, unknown>[]>().notNull(),
    /** under which they were written, where the table has one */
    revision: bigint('revision', { mode: 'number' }),
  },
  t => [index('import_log_by_batch').on(t.workspace, t.batch)],
)

/** How far each segment of each collector's journal has been taken in; moves in the transaction that stores the records. */
export const drainPositions = pgTable(
  'drain_positions',
  {
    /** the first workspace of the application that takes it in: a journal holds records of several */
    workspace: workspace(),
    journal: text('journal').notNull(),
    segment: text('segment').notNull(),
    offset: bigint('offset', { mode: 'number' }).notNull(),
  },
  t => [primaryKey({ columns: [t.workspace, t.journal, t.segment] })],
)

/** Up to which arrival networks have been told. */
export const relayPositions = pgTable('relay_positions', {
  workspace: text('workspace').primaryKey(),
  /** the version of the workspace up to which networks were told */
  version: bigint('version', { mode: 'number' }).notNull().default(0),
})
