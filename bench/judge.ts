import { existsSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { DuckDBInstance } from '@duckdb/node-api'
import { buildDataset } from '@/core/intake/dataset'
import { settingsSchema } from '@/core/intake/settings'
import { everything } from '@/core/shared/days'
import { gatherEvidence } from '@/core/weigh/evidence'
import { judge } from '@/core/weigh/judge'
import { readFolder } from '@/formats/folder'
import { judgeFolder, recordsOf } from '@/server/judging/judgeFolder'
import { writeBigFolder } from './bigFolder'
import type { Measure } from './measure'
import { median } from './median'

const CLICKS = Number(process.env.JUDGE_CLICKS ?? 1_000_000)

/** The same files, joins and sums in SQL: which ad brought each order, claims matched to orders, sums at three levels. */
const tables = (dir: string) => `
create or replace table c as select * from read_csv('${dir}/clicks.csv', all_varchar = false);
create or replace table o as select *, 'paid' = status as counts from read_csv('${dir}/orders.csv');
create or replace table m as select *, row_number() over () as claim from read_csv('${dir}/claim-rows.csv');
create or replace table d as select * from read_csv('${dir}/delivery.csv');`
const joins = `
create or replace temp table placed as
  with by_click as (
    select o.order_id, c.network, c.campaign_id, c.ad_set_id, c.ad_id from o join c using (click_id)
    where c.clicked_at <= o.ordered_at and o.ordered_at < c.clicked_at + interval 30 days),
  by_visitor as (
    select o.order_id, c.network, c.campaign_id, c.ad_set_id, c.ad_id
    from (select * from o where order_id not in (select order_id from by_click) and visitor_id is not null) o
    asof join (select * from c where visitor_id is not null) c
      on c.visitor_id = o.visitor_id and c.clicked_at <= o.ordered_at
    where o.ordered_at < c.clicked_at + interval 30 days)
  select * from by_click union all select * from by_visitor;
create or replace temp table by_transaction as
  select m.claim, o.order_id from m join o on o.order_id = m.transaction_id;
create or replace temp table by_value as
  select claim, order_id from (
    select m.claim, o.order_id, row_number() over (partition by m.claim order by abs(epoch_ms(m.claimed_at) - epoch_ms(o.ordered_at))) as rank
    from m join o on o.total = m.value and o.ordered_at between m.claimed_at - interval 36 hours and m.claimed_at + interval 36 hours
    where m.transaction_id is null) where rank = 1;
create or replace temp table matched as select * from by_transaction union all select * from by_value;`
const sums = ['campaign_id', 'campaign_id, ad_set_id', 'campaign_id, ad_set_id, ad_id'].map(
  level => `
select coalesce(d.network, p.network) as network, d.spend, p.orders, p.worth, k.claimed, k.matched from
  (select network, ${level}, sum(spend) as spend, sum(impressions), sum(clicks) from d group by all) d
  full join (select p.network, ${level}, count(*) as orders, sum(o.total) as worth
    from placed p join o using (order_id) where o.counts group by all) p using (network, ${level})
  full join (select m.network, ${level}, count(*) as claimed, count(order_id) as matched
    from m join (select distinct network, ${level === 'campaign_id, ad_set_id, ad_id' ? 'campaign_id, ad_set_id' : level}, ad_id from d) a using (network, ad_id)
    left join matched using (claim) group by all) k using (network, ${level})`,
)

export async function benchJudge(): Promise<Measure[]> {
  const dir = process.env.JUDGE_DIR ?? mkdtempSync(join(tmpdir(), 'aequant-judge-'))
  try {
    const counts = existsSync(join(dir, 'clicks.csv')) ? null : await writeBigFolder(dir, CLICKS)
    if (counts) console.error(`${counts.clicks} clicks, ${counts.orders} orders, ${counts.claims} claims.`)
    const connection = await (await DuckDBInstance.create(':memory:')).connect()
    const timed = async (work: () => Promise<unknown> | unknown) => {
      const began = performance.now()
      await work()
      return performance.now() - began
    }
    const query = async () => {
      await connection.run(joins)
      for (const sum of sums) await (await connection.run(sum)).getRows()
    }
    const [whole, theirs, engine, theirQuery, joined, theirsAlone] = [[], [], [], [], [], []] as [
      number[],
      number[],
      number[],
      number[],
      number[],
      number[],
    ]
    for (let round = 0; round < 3; round++) {
      const load = await timed(() => connection.run(tables(dir)))
      const asked = await timed(query)
      theirs.push(load + asked)
      theirQuery.push(asked)
      await connection.run('set threads = 1')
      theirsAlone.push(await timed(query))
      await connection.run('reset threads')
      whole.push(await timed(() => judgeFolder(dir, 'ad', everything)))
      const folder = readFolder(dir)
      const records = recordsOf(folder)
      const began = performance.now()
      const evidence = gatherEvidence(buildDataset(records, folder.settings ?? settingsSchema.parse({})))
      joined.push(performance.now() - began)
      judge(evidence, everything)
      engine.push(performance.now() - began)
      console.error(
        `DuckDB ${load.toFixed(0)} + ${asked.toFixed(0)} ms, here ${whole.at(-1)!.toFixed(0)} ms, of records already read ${engine.at(-1)!.toFixed(0)} ms`,
      )
    }
    return [
      {
        name: 'judge',
        value: median(whole) / 1000,
        unit: 's',
        against: 'DuckDB, the same joins and sums on the same files',
        ratio: median(whole) / median(theirs),
      },
      {
        name: 'judge_engine',
        value: median(engine) / 1000,
        unit: 's',
        against:
          'DuckDB, the same on tables already loaded; here on records already read, with matching, estimate and verdicts',
        ratio: median(engine) / median(theirQuery),
      },
      {
        name: 'judge_joins',
        value: median(joined) / 1000,
        unit: 's',
        against:
          'DuckDB, the same as above on one thread; here without estimate and verdicts, on one thread too',
        ratio: median(joined) / median(theirsAlone),
      },
    ]
  } finally {
    if (!process.env.JUDGE_DIR) rmSync(dir, { recursive: true, force: true })
  }
}
