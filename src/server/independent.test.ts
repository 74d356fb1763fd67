/** The figures of six screens, on the demo, counted once more in SQL. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { fillDemo } from '@/cli/fillDemo'
import { DAY_MS, type Period, spanOf } from '@/core/shared/days'
import { pathKey, readPath } from '@/core/shared/path'
import { conversionsOf } from '@/core/weigh/conversions'
import { provenCredits } from '@/core/weigh/credits'
import { gather } from '@/core/weigh/engine'
import { judgeAlone } from '@/core/weigh/judge'
import type { JudgedRow } from '@/core/weigh/rows'
import { type SegmentKind, segmentPart } from '@/core/weigh/segments'
import { listJourneys } from '@/data/journeys'
import { countAdClicks } from '@/data/sources'
import { evidenceKeeper } from './compute/evidenceOf'
import { loadAll } from './compute/loaded'
import { partedBy } from './compute/segmented'
import { reconcileView } from './compute/views/reconcile'
import { adFiguresView, weighView } from './compute/views/weigh'
import {
  CLAIM_KEYS,
  type CountsApart,
  cases,
  countsApart,
  isBilled,
  NOW,
  networks,
  ofNetwork,
  periods,
  scopeOf,
  within,
  ZONE,
} from './countsApart'
import { gatherSources } from './links/sources'
import { walkedJourney, walkedRows } from './signals/journey'
import { describeResults, previewResult } from './signals/results'

let { database, workspace, evidence, ask, close } = {} as CountsApart

beforeAll(async () => {
  ;({ database, workspace, evidence, ask, close } = await countsApart(fillDemo))
}, 180_000)
afterAll(() => close())

describe('counted once more', () => {
  it.each(cases)('Weigh: $of', async ({ network, period }) => {
    const view = weighView(evidence, { period, scope: scopeOf(network) })
    const counted = await ask<Record<string, string>>(
      `select network, campaign_id, sum(spend)::text as spend, sum(impressions)::text as impressions,
        sum(clicks)::text as clicks, sum(claimed)::text as claimed, sum(proven)::text as proven,
        sum(tagged)::text as tagged, sum(value)::text as value, sum(claimed_value)::text as claimed_value
      from (
        select network, campaign_id, spend::numeric * 100 as spend, impressions::numeric, clicks::numeric,
          0 as claimed, 0 as proven, 0 as tagged, 0::numeric as value, 0::numeric as claimed_value
        from delivery where date between $1 and $2
        union all select claims.network, coalesce(leaf.campaign_id, ''), 0, 0, 0, 1, 0, 0, 0,
          coalesce(nullif(value, '')::numeric, 0) * 100
        from claims left join leaf on leaf.network = claims.network and leaf.ad_id = claims.ad_id
        where coalesce(nullif(date, ''), (claimed_at::timestamptz at time zone '${ZONE}')::date::text) between $1 and $2
          and ${isBilled('claims.network', `coalesce(nullif(date, '')::date, (claimed_at::timestamptz at time zone '${ZONE}')::date)`)}
        union all select network, brought.campaign_id, 0, 0, 0, 0, (grade = 'proven')::int, (grade = 'tagged')::int, value * 100, 0
        from brought join o using (order_id) where counts and day between $1::date and $2::date
          and ${isBilled('brought.network', 'day')}
      ) as all_rows where ${ofNetwork('network')} group by 1, 2`,
      [...within(period), network],
    )
    const shown = (row: JudgedRow) => ({
      spend: row.sums.spend,
      impressions: row.sums.impressions,
      clicks: row.sums.clicks,
      claimed: row.sums.claimed,
      proven: row.sums.provenCredit / 1e6,
      tagged: row.sums.taggedCredit / 1e6,
      value: row.sums.trackedValue,
      claimed_value: row.sums.claimedValue,
    })
    const again = counted
      .map(({ network, campaign_id, ...figures }) => ({
        key: `${network}/${campaign_id}`,
        ...Object.fromEntries(Object.entries(figures).map(([key, value]) => [key, Number(value)])),
      }))
      .filter(({ key: _, ...figures }) => Object.values(figures).some(value => value !== 0))
    // A row that holds nothing but an estimate has nothing to be counted.
    const there = view.campaigns
      .map(row => ({ key: `${row.network}/${row.id}`, ...shown(row) }))
      .filter(({ key: _, ...figures }) => Object.values(figures).some(value => value !== 0))
    const byKey = (a: { key: string }, b: { key: string }) => a.key.localeCompare(b.key)
    expect(there.sort(byKey)).toEqual(again.sort(byKey))
    if (network === '' || network === 'norrfeed') expect(again.length).toBeGreaterThan(1)
  })

  /**
   * What each outcome of a result is proven to have come from, and in which parts: by its own click, else by its
   * visitor's clicks, else by those of its customer's earlier visitors, of 30 days each.
   */
  const PROVEN = `
    with every as (
      select order_id as id, ordered_at::timestamptz as at, click_id, visitor_id, customer_id, order_id as deal,
        status in ('paid', 'partially_refunded') as counts
      from orders where coalesce(nullif(result, ''), 'order') = $4
      union all
      select min(event_id), min(at::timestamptz), click_id, visitor_id, '', coalesce(nullif(transaction_id, ''), min(event_id)), true
      from events where rule is not null and name = $4 and bot = 'false'
        and coalesce(transaction_id, '') not in (select order_id from orders)
      group by click_id, visitor_id, transaction_id, case when coalesce(transaction_id, '') = '' then event_id end),
    deals as (select distinct on (deal) * from every where counts order by deal, at),
    kept as (select distinct on (case when $5 = 'every' then id
      else coalesce('c' || nullif(click_id, ''), 'v' || nullif(visitor_id, ''), id) end) *
      from deals order by case when $5 = 'every' then id
      else coalesce('c' || nullif(click_id, ''), 'v' || nullif(visitor_id, ''), id) end, at),
    own as (select kept.id, c.* from kept join c on c.click_id = kept.click_id
      where c.at <= kept.at and kept.at < c.at + interval '720 hours'),
    touch as (
      select id, 1 as rank, click_id, at from own
      union select kept.id, 1, c.click_id, c.at from kept join own using (id) join c
        on c.visitor_id <> '' and c.visitor_id in (own.visitor_id, kept.visitor_id)
      union select kept.id, 2, c.click_id, c.at from kept join c on c.visitor_id = kept.visitor_id where c.visitor_id <> ''
      union select kept.id, 3, c.click_id, c.at from kept join every as e on e.customer_id = kept.customer_id and e.at < kept.at
        join c on c.visitor_id = e.visitor_id where kept.customer_id <> '' and c.visitor_id <> ''),
    fitting as (select touch.* from touch join kept using (id)
      where touch.at <= kept.at and kept.at < touch.at + interval '720 hours'),
    best as (select fitting.* from fitting join (select id, min(rank) as rank from fitting group by 1) as first using (id, rank)),
    credited as (
      select best.id, best.click_id, case when $6 = 'even' then 1.0 / count(*) over (partition by best.id)
        when best.click_id = coalesce(own.click_id, first_value(best.click_id) over
          (partition by best.id order by best.at desc, best.click_id desc)) then 1 else 0 end as part
      from best left join own on own.id = best.id)
    select c.network, c.campaign_id, sum(part)::float as proven
    from credited join kept using (id) join c on c.click_id = credited.click_id
    where part > 0 and (kept.at at time zone '${ZONE}')::date between $1::date and $2::date
      and ${isBilled('c.network', `(kept.at at time zone '${ZONE}')::date`)} and ${ofNetwork('c.network')}
    group by 1, 2`
  const byResult = (['order', 'booklet', 'fitting-call', 'parcel'] as const).flatMap(result =>
    (['last_click', 'even'] as const).map(credit => ({ result, credit })),
  )
  it.each(byResult)('Weigh of $result by $credit', async ({ result, credit }) => {
    const { records, settings } = await loadAll(database, 'main')
    const definition = records.definitions.find(one => one.id === result)!
    const { evidence: own } = gather(records, { ...settings, credit }, result)
    for (const period of periods) {
      const counted = await ask<{ network: string; campaign_id: string; proven: number }>(PROVEN, [
        ...within(period),
        '',
        result,
        definition.count,
        credit,
      ])
      expect(counted.length).toBeGreaterThan(3)
      for (const network of networks) {
        const shown = weighView(own, { period, scope: scopeOf(network) }).campaigns.flatMap(row =>
          row.sums.provenCredit > 0
            ? [[`${row.network}/${row.id}`, row.sums.provenCredit / 1e6] as const]
            : [],
        )
        expect(Object.fromEntries(shown)).toEqual(
          Object.fromEntries(
            counted
              .filter(one => !network || one.network === network)
              .map(one => [`${one.network}/${one.campaign_id}`, expect.closeTo(one.proven, 3)]),
          ),
        )
      }
    }
  })

  it.each(periods)('all results by value, from $from', async period => {
    // Each result by itself, and all of them together: no share of the application's sums is taken for granted.
    const keeper = evidenceKeeper(database)
    const all = await keeper('main', '_all')
    const each = [...all.each!.values()]
    expect([...all.each!.keys()].sort()).toEqual(['booklet', 'course', 'fitting-call', 'order', 'parcel'])
    const counted = new Map<string, { proven: number; value: number }>()
    for (const one of each)
      for (const row of judgeAlone(one, period).rows) {
        if (row.level !== 'ad') continue
        const key = pathKey(...row.path)
        const sum = counted.get(key) ?? { proven: 0, value: 0 }
        counted.set(key, {
          proven: sum.proven + row.sums.provenCredit,
          value: sum.value + row.sums.trackedValue,
        })
      }
    for (const row of judgeAlone(all, period).rows)
      if (row.level === 'ad')
        expect([row.path, row.sums.provenCredit, row.sums.trackedValue]).toEqual([
          row.path,
          counted.get(pathKey(...row.path))?.proven ?? 0,
          counted.get(pathKey(...row.path))?.value ?? 0,
        ])
    const [spend] = await ask<{ spend: string }>(
      `select coalesce(sum(spend::numeric * 100), 0)::text as spend from delivery where date between $1 and $2`,
      within(period),
    )
    expect(judgeAlone(all, period).totals.sums.spend).toBe(Number(spend!.spend))
  })

  const SEGMENTS: Partial<Record<SegmentKind, string>> = {
    placement: `coalesce(k.placement, '')`,
    keyword: `lower(coalesce(k.keyword, ''))`,
    device: `lower(coalesce(k.device, ''))`,
    landing_page: `split_part(split_part(replace(replace(coalesce(k.landing_url, ''), 'https://', ''), 'http://', ''), '?', 1), '#', 1)`,
    weekday: `to_char(k.clicked_at::timestamptz at time zone '${ZONE}', 'ID')`,
    hour: `to_char(k.clicked_at::timestamptz at time zone '${ZONE}', 'FMHH24')`,
  }
  it.each(cases)('Weigh by segments: $of', async ({ network, period }) => {
    for (const [kind, said] of Object.entries(SEGMENTS) as [SegmentKind, string][]) {
      const by = segmentPart(kind)
      const parted = await partedBy(evidence, by, { database, workspace: 'main' })
      const { byPart, totals } = weighView(evidence, { period, scope: scopeOf(network), by }, parted)
      const shown = byPart!.filter(row => row.level === 'part')
      const counted = await ask<{ segment: string; orders: number; value: string }>(
        `select coalesce(${said}, '') as segment, count(*)::int as orders, sum(o.value * 100)::text as value
        from brought as b join o using (order_id) left join clicks as k on k.click_id = b.click_id
        where o.counts and o.day between $1::date and $2::date and ${ofNetwork('b.network')}
          and ${isBilled('b.network', 'o.day')} group by 1`,
        [...within(period), network],
      )
      const again = new Map(counted.map(({ segment, orders, value }) => [segment, [orders, Number(value)]]))
      for (const { id, sums } of shown)
        expect([kind, id, (sums.provenCredit + sums.taggedCredit) / 1e6, sums.trackedValue]).toEqual([
          kind,
          id,
          ...(again.get(id) ?? [0, 0]),
        ])
      expect([...again.keys()].every(segment => shown.some(row => row.id === segment))).toBe(true)
      const sum = (figure: keyof typeof totals.sums) => shown.reduce((all, row) => all + row.sums[figure], 0)
      for (const figure of ['spend', 'claimed', 'estimatedTenths', 'estimatedValue'] as const)
        expect([kind, figure, sum(figure)]).toEqual([kind, figure, totals.sums[figure]])
    }
  })

  it.each(cases)('conversions, each with its ad: $of', async ({ network, period }) => {
    const rows = conversionsOf(evidence, period, network || undefined)
    const counted = await ask<{ key: string; orders: number; value: string }>(
      `select b.network || ' ' || b.campaign_id as key, count(*)::int as orders, sum(o.value * 100)::text as value
       from brought as b join o using (order_id)
       where o.counts and o.day between $1::date and $2::date and ${ofNetwork('b.network')} group by 1`,
      [...within(period), network],
    )
    const again = new Map(counted.map(({ key, orders, value }) => [key, [orders, Number(value)]]))
    const shown = new Map<string, [number, number]>()
    for (const row of rows.filter(row => row.network !== '')) {
      const key = `${row.network} ${row.campaign_id}`
      const [orders, value] = shown.get(key) ?? [0, 0]
      shown.set(key, [orders + row.share / 1e6, value + row.value])
    }
    expect([...shown].sort()).toEqual([...again].sort())
    const [whole] = await ask<{ n: number; value: string }>(
      `select count(*)::int as n, coalesce(sum(value * 100), 0)::text as value from o where counts and day between $1::date and $2::date`,
      within(period),
    )
    if (network === '') {
      expect(rows.reduce((sum, row) => sum + row.share, 0) / 1e6).toBe(whole!.n)
      expect(rows.reduce((sum, row) => sum + row.value, 0)).toBe(Number(whole!.value))
    }
  })

  it.each(cases)('Reconcile: $of', async ({ network, period }) => {
    const { gap } = reconcileView(evidence, { period, scope: scopeOf(network) })
    const [claims] = await ask<{ n: number; value: string; views: number; missing: number }>(
      `with due as (
        select *, row_number() over (partition by ${CLAIM_KEYS} order by claimed_at::timestamptz) as again from claims
        where coalesce(nullif(date, ''), (claimed_at::timestamptz at time zone '${ZONE}')::date::text) between $1 and $2 and ${ofNetwork('network')})
      select count(*)::int as n, coalesce(sum(nullif(value, '')::numeric), 0)::text as value,
        (count(*) filter (where kind = 'view'))::int as views,
        (count(*) filter (where transaction_id <> '' and again = 1 and transaction_id not in (select order_id from o)))::int as missing
      from due`,
      [...within(period), network],
    )
    expect([gap.claims, gap.claimsValue]).toEqual([claims!.n, Math.round(Number(claims!.value) * 100)])
    // Claims that name an order that is there and counts stand against it, once an order; others can only add to these.
    const [sure] = await ask<{ matched: number; not_counting: number }>(
      `with due as (
        select distinct transaction_id from claims where kind = 'click' and transaction_id <> '' and ${ofNetwork('network')}
          and coalesce(nullif(date, ''), (claimed_at::timestamptz at time zone '${ZONE}')::date::text) between $1 and $2)
      select (count(*) filter (where counts and day between $1::date and $2::date))::int as matched,
        (count(*) filter (where not counts))::int as not_counting
      from due join o on o.order_id = due.transaction_id`,
      [...within(period), network],
    )
    const [loose] = await ask<{ n: number }>(
      `select count(*)::int as n from claims where transaction_id = '' and kind = 'click' and ${ofNetwork('network')}
        and coalesce(nullif(date, ''), (claimed_at::timestamptz at time zone '${ZONE}')::date::text) between $1 and $2`,
      [...within(period), network],
    )
    const line = (cause: string) => gap.causes.find(c => c.cause === cause)!.count
    // Of one network alone, orders that our evidence credits to another stand apart.
    const stood = gap.matched + (network === '' ? 0 : line('shared'))
    expect(stood).toBeGreaterThanOrEqual(sure!.matched)
    if (network === '') expect(stood).toBeLessThanOrEqual(sure!.matched + loose!.n)
    expect(line('no_such_order')).toBeGreaterThanOrEqual(claims!.missing)
    expect(line('no_such_order')).toBeLessThanOrEqual(claims!.missing + loose!.n)
    if (network !== '') return
    const [orders] = await ask<{ n: number; value: string }>(
      `select count(*)::int as n, coalesce(sum(value), 0)::text as value from o where counts and day between $1::date and $2::date`,
      within(period),
    )
    expect([gap.orders, gap.ordersValue]).toEqual([orders!.n, Math.round(Number(orders!.value) * 100)])
    // Not matched, and nothing of an ad about them: no click of theirs, and nothing that they carry.
    const [none] = await ask<{ n: number }>(
      `select count(*)::int as n from o where counts and day between $1::date and $2::date
        and order_id not in (select order_id from near join o as own using (order_id) where near.at <= own.at)
        and order_id not in (select order_id from brought)
        and order_id not in (select transaction_id from claims where kind = 'click')`,
      within(period),
    )
    expect(line('no_ad_evidence')).toBeLessThanOrEqual(none!.n + 2)
    expect(line('no_ad_evidence')).toBeGreaterThanOrEqual(none!.n - loose!.n)
  })

  it.each(cases)('Sources and Library: $of', async ({ network, period }) => {
    const credits = provenCredits(evidence, period, network || undefined)
    for (const [kind, column] of [
      ['placement', 'placement'],
      ['device', 'device'],
    ] as const) {
      const lines = await gatherSources(database, 'main', {
        kind,
        period,
        zone: ZONE,
        network: network || undefined,
        credits,
      })
      const counted = await ask<{
        network: string
        value: string
        clicks: number
        visitors: number
        orders: number
        worth: string
      }>(
        `with seen as (
          select network, ${column} as value, count(*)::int as clicks, count(distinct visitor_id)::int as visitors
          from clicks where ${column} <> '' and (clicked_at::timestamptz at time zone '${ZONE}')::date between $1::date and $2::date
            and click_id not in (select click_id from uncounted) and ${ofNetwork('network')}
          group by 1, 2),
        sold as (
          select b.network, k.${column} as value, count(*)::int as orders, sum(o.value) as worth
          from brought as b join o using (order_id) join clicks as k on k.click_id = b.click_id
          where b.grade = 'proven' and o.counts and o.day between $1::date and $2::date and k.${column} <> '' and ${ofNetwork('b.network')}
          group by 1, 2)
        select network, value, coalesce(clicks, 0) as clicks, coalesce(visitors, 0) as visitors,
          coalesce(orders, 0) as orders, coalesce(worth, 0)::text as worth
        from seen full join sold using (network, value)`,
        [...within(period), network],
      )
      const key = (line: { network: string; value: string }) => `${line.network} ${line.value}`
      const again = counted.map(line => ({
        key: key(line),
        clicks: line.clicks,
        visitors: line.visitors,
        orders: line.orders,
        value: Math.round(Number(line.worth) * 100),
      }))
      const shown = lines.map(({ network, values, clicks, visitors, orders, value }) => ({
        key: key({ network, value: values.join(' ') }),
        clicks,
        visitors,
        orders,
        value,
      }))
      const byKey = (a: { key: string }, b: { key: string }) => a.key.localeCompare(b.key)
      expect(shown.sort(byKey)).toEqual(again.sort(byKey))
    }

    const clicks = await countAdClicks(database, 'main', spanOf(period, ZONE))
    const ads = await ask<{ ad: string; clicks: number; spend: number }>(
      `select ad, sum(clicks)::int as clicks, sum(spend)::float as spend from (
        select network || '/' || ad_id as ad, count(*) as clicks, 0 as spend from clicks
          where ad_id <> '' and (clicked_at::timestamptz at time zone '${ZONE}')::date between $1::date and $2::date
            and click_id not in (select click_id from uncounted) and ${ofNetwork('network')} group by 1
        union all select network || '/' || ad_id, 0, sum(spend::numeric * 100) from delivery
          where ad_id <> '' and date::date between $1::date and $2::date and ${ofNetwork('network')} group by 1) as both_sides group by 1`,
      [...within(period), network],
    )
    const figures = new Map(adFiguresView(evidence, { period, ads: ads.map(a => a.ad) }).map(f => [f.ad, f]))
    for (const { ad, clicks: n, spend } of ads) {
      expect([ad, clicks.get(ad) ?? 0]).toEqual([ad, n])
      expect([ad, figures.get(ad)?.spend ?? 0]).toEqual([ad, Math.round(spend)])
    }
  })

  it.each(cases.filter(one => !one.network))(
    'Journey to an order: $of',
    { timeout: 240_000 },
    async ({ period }) => {
      const journey = (await listJourneys(database, 'main')).find(j => j.id === 'an-order')!
      const counted = await ask<{ network: string; steps: number[] }>(
        `with happened as (
        select coalesce(nullif(events.visitor_id, ''), v.visitor, nullif(events.click_id, '')) as who, at::timestamptz as at, click_id,
          case when rule is null and name = 'page' then regexp_replace(regexp_replace(page, '^https?://[^/]+', ''), '/?([?#].*)?$', '') end as path,
          case when rule is not null then name end as result, transaction_id
        from events left join (select click_id as click, max(visitor_id) as visitor from events where visitor_id <> '' and click_id <> '' group by 1) as v on v.click = events.click_id
        where bot = 'false' and (at::timestamptz at time zone '${ZONE}')::date between $1::date and $2::date
        union all
        -- Orders that count as other results tell by which click somebody came as well.
        select coalesce(nullif(b.visitor_id, ''), v.visitor, nullif(b.click_id, '')), b.ordered_at::timestamptz, b.click_id, null, coalesce(nullif(b.result, ''), 'order'), b.order_id
        from orders as b left join (select click_id as click, max(visitor_id) as visitor from events where visitor_id <> '' and click_id <> '' group by 1) as v on v.click = b.click_id
        where b.status in ('paid', 'partially_refunded') and (b.ordered_at::timestamptz at time zone '${ZONE}')::date between $1::date and $2::date),
      -- What the shop cancelled was no result.
      kept as (select * from happened where who is not null and not (result is not null
        and coalesce(transaction_id, '') in (select order_id from orders where status not in ('paid', 'partially_refunded')))),
      own as (select distinct on (who) who, c.network from kept join c on c.click_id = kept.click_id order by who, c.at desc),
      s1 as (select who, min(at) as at from kept where path in ('/kits', '/booklet', '') group by 1),
      s2 as (select kept.who from kept join s1 using (who) where result = 'booklet' and kept.at >= s1.at group by 1),
      s3 as (select kept.who, min(kept.at) as at from kept join s1 using (who) where path like '%/kits/%' and kept.at >= s1.at group by 1),
      s4 as (select kept.who, min(kept.at) as at from kept join s3 using (who) where path like '/basket%' and kept.at >= s3.at group by 1),
      s5 as (select kept.who, min(kept.at) as at from kept join s4 using (who) where path like '/buy/%' and kept.at >= s4.at group by 1),
      s6 as (select kept.who from kept join s5 using (who) where result = 'order' and kept.at >= s5.at group by 1)
      select network, array[count(s1.who), count(s2.who), count(s3.who), count(s4.who), count(s5.who), count(s6.who)]::int[] as steps
      from own left join s1 using (who) left join s2 using (who) left join s3 using (who) left join s4 using (who) left join s5 using (who)
        left join s6 using (who) group by network`,
        within(period),
      )
      for (const network of networks) {
        const { whole } = await walkedJourney(database, 'main', evidence, journey, {
          period,
          scope: scopeOf(network),
        })
        const own = counted.filter(one => !network || one.network === network)
        expect([network, ...whole.counts]).toEqual([
          network,
          ...journey.steps.map((_, step) => own.reduce((sum, { steps }) => sum + steps[step]!, 0)),
        ])
        if (!network) expect(whole.counts.at(-1)).toBeGreaterThan(50)
      }
    },
  )

  it.each(networks)('Steps beside the rows of Weigh, of %s', async network => {
    const [latest, told] = periods as [Period, Period]
    const scope = scopeOf(network)
    const journey = (await listJourneys(database, 'main')).find(j => j.id === 'an-order')!
    const walked = async (period: Period) =>
      (await walkedRows(database, 'main', evidence, journey, { period, scope })).rows
    const rows = await walked(told)
    // What is told of every day: as the journey itself, and each row the sum of those below it.
    const { whole, campaigns } = await walkedJourney(database, 'main', evidence, journey, {
      period: told,
      scope,
    })
    const sumOf = (counts: number[][]) =>
      whole.counts.map((_, i) => counts.reduce((sum, own) => sum + own[i]!, 0))
    const below = (path: string[]) =>
      sumOf(
        Object.entries(rows).flatMap(([key, counts]) => {
          const own = readPath(key)
          return own.length === path.length + 1 && path.every((part, i) => own[i] === part) ? [counts] : []
        }),
      )
    expect(rows[pathKey(...(network ? [network] : []))] ?? sumOf([])).toEqual(whole.counts)
    for (const { network, campaign, counts: own } of campaigns) {
      const counts = own ?? sumOf([])
      expect(rows[pathKey(network, campaign)] ?? sumOf([])).toEqual(counts)
      expect(below([network, campaign])).toEqual(counts)
    }
    // A day without its bill adds nothing.
    expect(await walked(latest)).toEqual(await walked({ ...latest, to: latest.to - 1 }))
  })

  const weeks = [0, 14, 28].flatMap(back =>
    networks.map(network => ({
      network,
      now: NOW - back * DAY_MS,
      of: `${network || 'all networks'}, ${back} days ago`,
    })),
  )
  it.each(weeks)('Results of the week before: $of', async ({ network, now }) => {
    const { results } = await describeResults(database, workspace, now)
    for (const { definition, lastWeek } of results) {
      const { id, count, value } = definition
      expect(definition.minimum ?? 0).toBe(0)
      // The station shows all networks; a result that is for one alone counts what its clicks brought.
      const shown = network
        ? await previewResult(database, workspace, { ...definition, networks: [network] }, now)
        : lastWeek
      const counted = await ask<{ n: number; worth: string; by_ads: number }>(
        `with told as (
          select order_id as id, ordered_at::timestamptz as at, click_id, visitor_id, order_id as transaction,
            greatest(0, total::numeric - coalesce(nullif(refunded, '')::numeric, 0)) as value
          from orders where coalesce(nullif(result, ''), 'order') = $4 and status in ('paid', 'partially_refunded')
          union all
          select min(event_id), min(at::timestamptz), click_id, visitor_id, transaction_id, min(nullif(value, '')::numeric)
          from events where rule is not null and name = $4 and bot = 'false'
            and coalesce(transaction_id, '') not in (select order_id from orders)
          group by click_id, visitor_id, transaction_id, case when coalesce(transaction_id, '') = '' then event_id end),
        meant as (select told.*, c.at as clicked from told left join c on c.click_id = told.click_id
          where told.at between $1::timestamptz and $2::timestamptz and ${ofNetwork('c.network')}),
        keyed as (select *, coalesce(nullif(transaction, ''), id) as deal from meant),
        first as (select distinct on (deal) *, case when $5 = 'every' then id else coalesce('c' || nullif(click_id, ''), 'v' || nullif(visitor_id, ''), id) end as comer
          from keyed order by deal, at),
        kept as (select distinct on (comer) * from first order by comer, at)
        select count(*)::int as n, coalesce(sum(case when $6 = '' then value else $6::numeric end), 0)::text as worth,
          (count(*) filter (where at - clicked between interval '0' and interval '30 days'))::int as by_ads from kept`,
        [
          new Date(now - 7 * DAY_MS).toISOString(),
          new Date(now).toISOString(),
          network,
          id,
          count,
          value.by === 'fixed'
            ? String(value.amount / 100)
            : value.by === 'lifetime'
              ? String((value.price * value.periods) / 10_000)
              : '',
        ],
      )
      expect([id, shown.results, shown.worth, shown.byAds]).toEqual([
        id,
        counted[0]!.n,
        Math.round(Number(counted[0]!.worth) * 100),
        counted[0]!.by_ads,
      ])
    }
  })
})
