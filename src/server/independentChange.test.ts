/** What changed, Moves, Pages and Signals, on the demo, counted once more in SQL. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { fillDemo } from '@/cli/fillDemo'
import { formatDay, type Period, parseDay } from '@/core/shared/days'
import { type MoveList, moveListSchema } from '@/core/weigh/moves'
import { listRules } from '@/data/signals'
import { changedView } from './compute/views/changed'
import { forecastMovesView, outcomesView } from './compute/views/moves'
import { pagesView } from './compute/views/pages'
import {
  type CountsApart,
  cases,
  countsApart,
  isBilled,
  NOW,
  ofNetwork,
  scopeOf,
  today,
  within,
  ZONE,
} from './countsApart'
import { tryRule } from './signals/rules'

let { database, evidence, ask, close } = {} as CountsApart

beforeAll(async () => {
  ;({ database, evidence, ask, close } = await countsApart(fillDemo))
}, 180_000)
afterAll(() => close())

const CLAIM_DAY = `coalesce(nullif(date, ''), (claimed_at::timestamptz at time zone '${ZONE}')::date::text)`
/** As many days before a period. */
const before = ({ from, to }: Period): Period => ({ from: from - (to - from + 1), to: from - 1 })
const before60 = parseDay(today)! - 60

interface Side {
  key: string
  spend: number
  impressions: number
  clicks: number
  claimed: number
}
const nothing = { spend: 0, impressions: 0, clicks: 0, claimed: 0 }
/** What networks billed and claimed in a period, by network and campaign. */
const told = (period: Period, network: string) =>
  ask<Side>(
    `select network || '/' || campaign_id as key, sum(spend)::float as spend, sum(impressions)::float as impressions,
      sum(clicks)::float as clicks, sum(claimed)::float as claimed
    from (
      select network, campaign_id, spend::numeric * 100 as spend, impressions::numeric, clicks::numeric, 0 as claimed
      from delivery where date between $1 and $2
      union all select claims.network, coalesce(leaf.campaign_id, ''), 0, 0, 0, 1
      from claims left join leaf on leaf.network = claims.network and leaf.ad_id = claims.ad_id
      where ${CLAIM_DAY} between $1 and $2 and ${isBilled('claims.network', `(${CLAIM_DAY})::date`)}
    ) as lines where ${ofNetwork('network')} group by 1`,
    [...within(period), network],
  )
const sumOf = (sides: readonly Side[]) =>
  sides.reduce(
    (sum, side) => ({
      spend: sum.spend + side.spend,
      impressions: sum.impressions + side.impressions,
      clicks: sum.clicks + side.clicks,
      claimed: sum.claimed + side.claimed,
    }),
    nothing,
  )
const log = (a: typeof nothing, b: typeof nothing, over: keyof typeof nothing, under: keyof typeof nothing) =>
  Math.log(b[over] / b[under] / (a[over] / a[under]))

describe('counted once more', () => {
  it.each(cases)('What changed: $of', async ({ network, period }) => {
    const first = before(period)
    const view = changedView(evidence, { period, first, scope: scopeOf(network) })
    const [was, is] = [await told(first, network), await told(period, network)]
    for (const [side, sides] of [
      [view.whole.first, was],
      [view.whole.second, is],
    ] as const)
      expect(side).toMatchObject(sumOf(sides))
    const campaigns = view.parts.filter(part => part.campaign !== null)
    for (const { network: of, campaign, of: parts } of campaigns) {
      const key = `${of}/${campaign}`
      expect([key, parts.first]).toMatchObject(
        [key, was.find(side => side.key === key) ?? nothing].map(plain),
      )
      expect([key, parts.second]).toMatchObject(
        [key, is.find(side => side.key === key) ?? nothing].map(plain),
      )
    }
    // Nothing that was billed or claimed is missing among the campaigns.
    for (const { key } of [...was, ...is].filter(side => side.spend + side.claimed > 0))
      expect(campaigns.map(part => `${part.network}/${part.campaign}`)).toContain(key)

    const [a, b] = [sumOf(was), sumOf(is)]
    const partOf = (name: string) => view.whole.parts.find(({ part }) => part === name)!.log
    if (view.whole.logChange !== null) {
      expect(view.whole.logChange).toBeCloseTo(log(a, b, 'spend', 'claimed'), 9)
      expect(partOf('attention')).toBeCloseTo(log(a, b, 'spend', 'impressions'), 9)
      expect(partOf('appeal')).toBeCloseTo(log(a, b, 'impressions', 'clicks'), 9)
      const sum = view.whole.parts.reduce((all, part) => all + part.log!, 0)
      expect(sum).toBeCloseTo(view.whole.logChange, 9)
    }
    // By day, with the days that nobody has billed yet.
    const byDay = await ask<{ day: string; spend: number; claimed: number }>(
      `select day, sum(spend)::float as spend, sum(claimed)::float as claimed from (
        select date as day, network, spend::numeric * 100 as spend, 0 as claimed from delivery
        union all select ${CLAIM_DAY}, network, 0, 1 from claims) as lines
      where day between $1 and $2 and ${ofNetwork('network')} group by 1`,
      [formatDay(first.from), formatDay(period.to), network],
    )
    for (const { day, spend, claimed } of view.days) {
      const own = byDay.find(one => one.day === formatDay(day))
      expect([day, spend, claimed]).toEqual([day, own?.spend ?? 0, own?.claimed ?? 0])
    }
  })
  const plain = <T>(one: T): T => {
    if (typeof one !== 'object' || one === null) return one
    const { key: _, ...rest } = one as T & { key?: string }
    return rest as T
  }

  it.each(cases.filter(one => one.network !== 'placements'))('Moves: $of', async ({ network, period }) => {
    const tops = await ask<{ network: string; campaign_id: string; ad_set_id: string; ad_id: string }>(
      `select distinct on (network, campaign_id) network, campaign_id, ad_set_id, ad_id from delivery
      where date between $1 and $2 and ${ofNetwork('network')} and spend::numeric > 0
      order by network, campaign_id, ad_set_id, ad_id`,
      [...within(period), network],
    )
    // Every other campaign as a whole, of the others one ad.
    const factors = tops.map(({ network, campaign_id, ad_set_id, ad_id }, i) => ({
      path: i % 2 === 0 ? [network, campaign_id] : [network, campaign_id, ad_set_id, ad_id],
      factor: [0, 0.5, 1.2][i % 3]!,
    }))
    if (factors.length === 0) return
    const foreseen = forecastMovesView(evidence, {
      period,
      scope: scopeOf(network),
      factors,
      rules: { elasticity: 0.6, cut: 'saved' },
    })
    const spent = async ([of, campaign, , ad = '']: readonly string[], within: readonly string[]) => {
      const [one] = await ask<{ spend: number; days: number }>(
        `select coalesce(sum(spend::numeric * 100), 0)::float as spend,
          (least($2::date, coalesce((select until from billed where network = $3), $2::date)) - $1::date) + 1 as days
        from delivery where date::date between $1::date and $2::date and network = $3 and campaign_id = $4 and ($5 = '' or ad_id = $5)`,
        [...within, of, campaign, ad],
      )
      return one!
    }
    expect(foreseen.moves.length).toBe(factors.length)
    for (const { path, factor, forecast } of foreseen.moves) {
      const { spend, days } = await spent(path, within(period))
      expect([path, forecast.spend.before]).toEqual([path, expect.closeTo(spend / days, 6)])
      expect([path, forecast.spend.after]).toEqual([path, expect.closeTo((factor * spend) / days, 6)])
    }
    // The same as decisions of sixty days ago: what was spent in the four weeks from the day after on.
    const list: MoveList = moveListSchema.parse({
      ...{ id: 'counted', at: NOW, day: formatDay(before60), by: 'a test', why: '', result: 'order' },
      ...{ network, currency: 'EUR', account: foreseen.account, moves: foreseen.moves },
    })
    const [{ until, account, moves }] = outcomesView(evidence, { lists: [list] }) as [
      ReturnType<typeof outcomesView>[number],
    ]
    const touched = [...new Set(list.moves.map(move => move.network))]
    // Who delivers no more is waited for no longer than the others.
    const [billed] = await ask<{ until: string }>(
      `select min(coalesce(until, (select max(until) from billed)))::text as until
      from unnest($1::text[]) as touched (network) left join billed using (network)`,
      [touched],
    )
    expect(until).toBe(billed!.until)
    const last = Math.min(before60 + 28, parseDay(billed!.until)!)
    const after = [formatDay(before60 + 1), formatDay(last)]
    for (const [i, { path }] of list.moves.entries()) {
      const happened = moves[i]!
      expect([path, happened.days]).toEqual([path, last - before60])
      expect([path, happened.happened.spend]).toEqual([path, (await spent(path, after)).spend])
    }
    const [all] = await ask<{ spend: number }>(
      `select coalesce(sum(spend::numeric * 100), 0)::float as spend from delivery
      where date between $1 and $2 and network = any ($3)`,
      [...after, touched],
    )
    expect(account.happened.spend).toBe(all!.spend)
  })

  it.each(cases)('Pages: $of', async ({ network, period }) => {
    const view = await pagesView(
      evidence,
      { period, scope: scopeOf(network) },
      { database, workspace: 'main' },
    )
    const meant = `from clicks where click_id not in (select click_id from uncounted)
      and (clicked_at::timestamptz at time zone '${ZONE}')::date between $1::date and $2::date and ${ofNetwork('network')}`
    const pages = await ask<{ address: string; arrivals: number; wentOn: number }>(
      `select split_part(split_part(split_part(landing_url, '//', 2), '?', 1), '#', 1) as address,
        count(*)::int as arrivals,
        (count(*) filter (where click_id in (select click_id from hops where bot = 'false')))::int as "wentOn"
      ${meant} and landing_url <> '' group by 1`,
      [...within(period), network],
    )
    const byAddress = (a: { address: string }, b: { address: string }) => (a.address < b.address ? -1 : 1)
    const shown = ({ address, arrivals, wentOn }: (typeof view.pages)[number]) => ({
      address,
      arrivals,
      wentOn,
    })
    expect(view.pages.map(shown).sort(byAddress)).toEqual(pages.sort(byAddress))
    const offers = await ask<{ address: string; arrivals: number }>(
      `select split_part(split_part(offer, '?', 1), '#', 1) as address, count(distinct click_id)::int as arrivals
      from hops where bot = 'false' and click_id in (select click_id ${meant}) group by 1`,
      [...within(period), network],
    )
    expect(view.offers.map(({ address, arrivals }) => ({ address, arrivals })).sort(byAddress)).toEqual(
      offers.sort(byAddress),
    )
    for (const { code, by, sides } of view.splits)
      for (const side of sides) {
        const [counted] = await ask<{ arrivals: number; results: number; worth: number }>(
          `with led as (${
            by === 'landings'
              ? `select clicks.click_id from clicks join codes using (click_id) where codes.code = $3 and starts_with(landing_url, $4)`
              : `select distinct clicks.click_id from clicks join hops using (click_id) where hops.code = $3 and bot = 'false' and starts_with(offer, $4)`
          } and clicks.click_id not in (select click_id from uncounted)
            and (clicked_at::timestamptz at time zone '${ZONE}')::date between $1::date and $2::date)
          select (select count(*)::int from led) as arrivals, count(*)::int as results,
            coalesce(sum(o.value * 100), 0)::float as worth
          from brought join o using (order_id) where counts and day between $1::date and $2::date
            and brought.click_id in (select click_id from led)`,
          [...within(period), code, side.address],
        )
        expect([code, side.address, side.arrivals, side.results, side.worth]).toEqual([
          code,
          side.address,
          counted!.arrivals,
          counted!.results,
          counted!.worth,
        ])
      }
    if (network === '') expect(view.splits.length).toBeGreaterThan(0)
  })

  it('Signals: what each rule would have meant of the week', async () => {
    for (const rule of await listRules(database, 'main')) {
      const tried = await tryRule(database, 'main', rule, 'https://shop.example/', [], NOW)
      const [{ text } = { text: '' }] = rule.where.any as { text: string }[]
      const [counted] = await ask<{ seen: number; matches: number }>(
        `select count(*)::int as seen, (count(*) filter (where
          split_part(split_part(regexp_replace(page, '^https?://[^/]+', ''), '?', 1), '#', 1) in ($2, $2 || '/')))::int as matches
        from (select distinct page from events where name = 'page' and page <> '' and at::timestamptz >= $1::timestamptz) as seen`,
        [new Date(NOW - 7 * 86_400_000).toISOString(), text],
      )
      expect([rule.id, tried.seen, tried.matches]).toEqual([rule.id, counted!.seen, counted!.matches])
      expect(tried.seen).toBeGreaterThan(10)
    }
  })
})
