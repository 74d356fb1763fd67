/**
 * The demo, and beside it its exported files in a database of their own, where tests count with SQL of their own:
 * nothing of the application's counting is used.
 */
import { PGlite } from '@electric-sql/pglite'
import { formatDay, parseDay, zoneClock } from '@/core/shared/days'
import type { Database } from '@/data/connect'
import { openTestDatabase } from '@/data/testDatabase'
import { findWorkspace } from '@/data/workspace'
import { evidenceKeeper } from './compute/evidenceOf'
import { exportedFiles, rowsOf } from './exportedFiles'

export const ZONE = 'Europe/Lisbon'
export const NOW = Date.now()
export const today = formatDay(zoneClock(ZONE)(NOW).day)
export const networks = [
  '',
  'norrfeed',
  'kelpie',
  'mothwire',
  'guildpost',
  'whyfold',
  'parkfold',
  'placements',
]
const days = (from: number, to: number) => ({ from: parseDay(today)! - from, to: parseDay(today)! - to })
export const periods = [days(75, 0), days(28, 1), days(45, 30)]
export const cases = periods.flatMap(period =>
  networks.map(network => ({
    network,
    period,
    of: `${network || 'all networks'}, ${formatDay(period.from)} to ${formatDay(period.to)}`,
  })),
)

export const within = ({ from, to }: { from: number; to: number }) => [formatDay(from), formatDay(to)]
export const scopeOf = (network: string) => (network ? { network } : {})
/** A network's own rows, or all. */
export const ofNetwork = (column: string) => `($3 = '' or ${column} = $3)`

const tableOf: Record<string, string> = { 'claims.csv': 'claim_sums', 'claim-rows.csv': 'claim_rows' }
/** Listed claims, and each claim of a day's sum, its value spread to the cent. */
const CLAIMS = `
create table claims as select network, conversion, ad_id, kind, transaction_id, value, claimed_at, date from claim_rows
  union all select network, conversion, ad_id,
    case when k <= click_through::int then 'click' else 'view' end, '',
    case when value = '' then '' else ((round(value::numeric * 100)::bigint / units
      + case when k <= round(value::numeric * 100)::bigint % units then 1 else 0 end) / 100.0)::text end, null, date
  from (select *, click_through::int + view_through::int as units from claim_sums) as s, generate_series(1, units) as k;`
export const CLAIM_KEYS = 'network, conversion, transaction_id'
/** The last day of which each network has told what it spent; one that has told of none for a week has stopped, and what is placed by hand waits for nobody. */
const BILLED = `
create table billed as select network, max(date)::date as until from delivery where network <> 'placements' group by 1
  having max(date)::date >= (select max(date)::date - 7 from delivery);`
/** Whether a day is one of which its network has told. */
export const isBilled = (network: string, day: string) =>
  `not exists (select 1 from billed where billed.network = ${network} and ${day} > billed.until)`
/** What an order is proven or tagged to have come from, by the rules of docs/computation.md, in SQL. */
const PLACED = `
create table c as select click_id, clicked_at::timestamptz as at, network, campaign_id,
  coalesce(ad_set_id, '') as ad_set_id, coalesce(ad_id, '') as ad_id, visitor_id, network_click_id
  from clicks;
create index on c (click_id); create index on c (visitor_id); create index on c (network_click_id);
create table o as select order_id, ordered_at::timestamptz as at, status, click_id, visitor_id, customer_id,
  landing_url, utm_source, utm_campaign, utm_term, utm_content,
  status in ('paid', 'partially_refunded') as counts,
  (ordered_at::timestamptz at time zone '${ZONE}')::date as day,
  greatest(0, total::numeric - coalesce(nullif(refunded, '')::numeric, 0)) as value
  from orders where coalesce(nullif(result, ''), 'order') = 'order';
create table p as select distinct o.order_id, nullif(split_part(pair, '=', 2), '') as value
  from o, regexp_split_to_table(split_part(split_part(landing_url, '?', 2), '#', 1), '&') as pair;
create table near as
  select o.order_id, 1 as rank, c.* from o join c on c.click_id = o.click_id
  union all select o.order_id, 2, c.* from o join c on c.visitor_id = o.visitor_id
  union all select o.order_id, 3, c.* from o
    join o as e on e.customer_id = o.customer_id and e.at < o.at
    join c on c.visitor_id = e.visitor_id
  union all select o.order_id, 4, c.* from o join p using (order_id)
    join c on length(p.value) >= 6 and p.value in (c.network_click_id, c.click_id);
create table brought as
  select distinct on (near.order_id) near.order_id, case when rank < 4 then 'proven' else 'tagged' end as grade,
    near.network, near.campaign_id, near.ad_id, near.click_id
  from near join o using (order_id)
  where near.at <= o.at and o.at < near.at + interval '720 hours'
  order by near.order_id, rank, near.at desc;
create table leaf as
  select network, max(campaign_id) as campaign_id, max(ad_set_id) as ad_set_id, ad_id from (
    select network, campaign_id, ad_set_id, ad_id from delivery
    union all select network, campaign_id, ad_set_id, ad_id from c
    union all select network, null, null, ad_id from claims) as seen
  where ad_id <> '' group by network, ad_id;
create table called as
  select network, 'campaign' as level, campaign_id as id, lower(campaign_name) as name from delivery
  union select network, 'ad_set', ad_set_id, lower(ad_set_name) from delivery
  union select network, 'ad', ad_id, lower(ad_name) from delivery
  union select network, 'campaign', campaign_id, lower(campaign_name) from ads
  union select network, 'ad_set', ad_set_id, lower(ad_set_name) from ads
  union select network, 'ad', ad_id, lower(ad_name) from ads
  union select network, 'campaign', campaign_id, lower(campaign_id) from leaf
  union select network, 'ad_set', ad_set_id, lower(ad_set_id) from leaf
  union select network, 'ad', ad_id, lower(ad_id) from leaf;
insert into brought
  select order_id, 'tagged', network,
    coalesce((select case when count(distinct campaign_id) = 1 then max(campaign_id) end from leaf
      where leaf.network = n.network and leaf.ad_id = any (chosen)), ''), '', null
  from (
    select o.order_id, lower(o.utm_source) as network,
      (select array_agg(leaf.ad_id) from leaf join called on called.network = leaf.network and called.level = 'campaign'
        and called.id = leaf.campaign_id and called.name = lower(o.utm_campaign)
        where leaf.network = lower(o.utm_source)) as chosen
    from o where o.order_id not in (select order_id from brought) and o.utm_source <> ''
      and lower(o.utm_source) in (select network from leaf)
      and not (coalesce(o.click_id, '') <> '' and exists (select 1 from near where near.order_id = o.order_id and near.at <= o.at))
  ) as n;`

/** What is in no exchange file is read as it is stored. */
const STORED = {
  events: `select event_id, visitor_id, click_id, at::text as at, page, name, transaction_id, bot::text as bot,
    attributes->>'rule' as rule, value, currency from events where workspace = 'main'`,
  uncounted: `select click_id from clicks where workspace = 'main' and (bot or repeated)`,
  hops: `select click_id, code, offer, bot::text as bot from hops where workspace = 'main'`,
  codes: `select click_id, attributes->>'code' as code from clicks where workspace = 'main'`,
}

/**
 * Fills the demo as of today and its files into SQL.
 *
 * @param fill with the demo
 */
export async function countsApart(fill: (database: Database, today: string) => Promise<unknown>) {
  const { database, stop } = await openTestDatabase()
  await fill(database, today)
  const workspace = (await findWorkspace(database, 'main'))!
  const evidence = await evidenceKeeper(database)('main', 'order')
  const sql = await PGlite.create()
  const load = async (table: string, columns: readonly string[], rows: readonly object[]) => {
    const typed = columns.map(column => `"${column}" text`).join(', ')
    await sql.exec(`create table "${table}" (${typed})`)
    for (let i = 0; i < rows.length; i += 5000)
      await sql.query(`insert into "${table}" select * from json_to_recordset($1) as r(${typed})`, [
        JSON.stringify(rows.slice(i, i + 5000)),
      ])
  }
  for (const [name, text] of Object.entries(await exportedFiles(database, workspace))) {
    const rows = rowsOf(text)
    await load(tableOf[name] ?? name.replace('.csv', ''), Object.keys(rows[0]!), rows)
  }
  for (const [table, stored] of Object.entries(STORED)) {
    const { fields, rows } = await database.execute<Record<string, unknown>>(stored)
    await load(
      table,
      fields.map(field => field.name),
      rows,
    )
  }
  await sql.exec(CLAIMS)
  await sql.exec(PLACED)
  await sql.exec(BILLED)
  // Tables without statistics are joined by hashing, not row by row.
  await sql.exec('set enable_nestloop = off')
  return {
    database,
    workspace,
    evidence,
    ask: async <Row>(text: string, given: unknown[] = []) => (await sql.query<Row>(text, given)).rows,
    close: async () => {
      await sql.close()
      await stop()
    },
  }
}
export type CountsApart = Awaited<ReturnType<typeof countsApart>>
