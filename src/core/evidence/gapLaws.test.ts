import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { inOrder } from '../intake/change'
import { ALL_RESULTS } from '../intake/judgedResult'
import { pathKey, readPath } from '../shared/path'
import { evidenceAmong } from '../weigh/engine'
import { gatherEvidence } from '../weigh/evidence'
import { claimCauses, orderCauses } from './causes'
import { type Gap, reconcile, sumGaps } from './gap'
import { claim, claimSum, click, dataset, instantAt, order, type Rows } from './sampleRecords'

const HOURS = 20 * 24
const firstDay = Math.floor(instantAt(0) / 86_400_000)
const ads = [
  { network: 'norrfeed', campaign_id: 'c1', ad_set_id: 's1', ad_id: 'a1' },
  { network: 'norrfeed', campaign_id: 'c1', ad_set_id: 's2', ad_id: 'a2' },
  { network: 'norrfeed', campaign_id: 'c2', ad_set_id: 's3', ad_id: 'a3' },
  { network: 'kelpie', campaign_id: 'k1', ad_set_id: 't1', ad_id: 'b1' },
  { network: 'whyfold', campaign_id: 'w1', ad_set_id: 'u1', ad_id: 'd1' },
]
const hour = fc.integer({ min: 0, max: HOURS })
const ad = fc.constantFrom(...ads)
const who = fc.integer({ min: 0, max: 5 })
const amount = fc.constantFrom('20.00', '35.50', '149.00', '0.00')
const rows: fc.Arbitrary<Rows> = fc
  .record({
    clicks: fc.array(fc.tuple(hour, ad, who), { maxLength: 12 }),
    orders: fc.array(
      fc.record({
        at: hour,
        who: fc.option(who),
        total: amount,
        status: fc.constantFrom(
          'paid',
          'paid',
          'paid',
          'cancelled',
          'refunded',
          'test',
          'partially_refunded',
        ),
        source: fc.option(fc.constantFrom('norrfeed', 'kelpie', 'nobody')),
        result: fc.constantFrom('order', 'order', 'order', 'lead'),
      }),
      { maxLength: 14 },
    ),
    claims: fc.array(
      fc.record({
        at: hour,
        ad: fc.constantFrom(ads[0]!, ads[1]!, ads[2]!, ads[3]!),
        of: fc.option(fc.integer({ min: 0, max: 15 })),
        click: fc.option(fc.integer({ min: 0, max: 11 })),
        kind: fc.constantFrom('click', 'click', 'view'),
        value: fc.option(amount),
      }),
      { maxLength: 16 },
    ),
    sums: fc.array(
      fc.tuple(
        fc.integer({ min: 0, max: 19 }),
        fc.integer({ min: 0, max: 3 }),
        fc.integer({ min: 0, max: 2 }),
        fc.record({
          of: fc.constantFrom(
            { ad_id: 'd1' },
            { ad_id: 'd2' },
            { ad_id: null, campaign_id: 'w1' },
            { ad_id: null, campaign_id: 'w1', ad_set_id: 'u2' },
          ),
          part: fc.constantFrom(0, 0, 0.5, 0.333, 0.04),
        }),
      ),
      { maxLength: 8 },
    ),
  })
  .map(({ clicks, orders, claims, sums }) => ({
    clicks: clicks.map(([at, of, visitor], i) => click(`x${i}`, at, { ...of, visitor_id: `v${visitor}` })),
    orders: orders.map(({ at, who: visitor, total, status, source, result }, i) =>
      order(`o${i}`, at, {
        total,
        status,
        result,
        refunded: status === 'partially_refunded' ? '5.00' : null,
        visitor_id: visitor === null ? null : `v${visitor}`,
        utm_source: source,
      }),
    ),
    claimRows: claims.map(({ at, ad: { network, ad_id }, of, click: named, kind, value }) =>
      claim(at, {
        network,
        ad_id,
        kind,
        value,
        transaction_id: of === null ? null : `o${of}`,
        click_id: named === null ? null : `x${named}`,
      }),
    ),
    claims: [
      ...new Map(
        sums.map(([day, clicked, viewed, { of, part }]) => [
          pathKey(String(day), JSON.stringify(of)),
          claimSum(new Date((firstDay + day) * 86_400_000).toISOString().slice(0, 10), {
            network: 'whyfold',
            ...of,
            click_through: String(clicked + part),
            view_through: String(viewed),
            value: String(100 * (clicked + part + viewed)),
          }),
        ]),
      ).values(),
    ],
  }))
const settings = fc.record({
  credit: fc.constantFrom('last_click', 'even'),
  click_window_days: fc.constantFrom(1, 7, 30),
  view_window_days: fc.constantFrom(0, 1, 7),
  order_value: fc.constantFrom('gross', 'net'),
  networks: fc.constantFrom(
    [],
    [
      {
        id: 'norrfeed',
        click_window_days: 7,
        view_window_days: 1,
        dated_by: 'click',
        time_zone: 'Asia/Tokyo',
      },
    ],
  ),
})
const period = fc
  .tuple(fc.integer({ min: 0, max: 19 }), fc.integer({ min: 0, max: 19 }))
  .map(([a, b]) => ({ from: firstDay + Math.min(a, b), to: firstDay + Math.max(a, b) }))

/** Conversions may be credited in thousandths: no finer, so that these are exact. */
const thousandths = (count: number) => Math.round(count * 1000)

const numbers = ({ orders, ordersValue, claims, claimsValue, matched, causes }: Gap) => [
  ...[orders, ordersValue, thousandths(claims), claimsValue, matched],
  ...causes.flatMap(({ count, value, pairs = 0 }) => [thousandths(count), value, pairs]),
]

/** The gap of the whole and of each part of the tree, by its path; orders that stand under none are `nowhere`. */
function gapsOf(records: Rows, rules: object, days: { from: number; to: number }, result?: string) {
  const { data, placements, matches } = evidenceAmong({ orders: [], ...records }, result ?? 'order', one =>
    gatherEvidence(dataset(records, rules, one)),
  )
  return sumGaps(data, reconcile(data, placements, matches, days), leaf => {
    const own = data.tree.leaves[leaf]
    const path = own ? [own.network, own.campaign, own.adSet, own.ad] : ['nowhere']
    return path.map((_, depth) => pathKey(...path.slice(0, depth + 1))).concat('whole')
  })
}

/** The whole is above all others. */
const pathOf = (key: string): string[] => (key === 'whole' ? [] : readPath(key))

describe('the gap, whatever came', () => {
  it('is explained to the last order and the last cent, in every part and period, by every rule and result', () => {
    fc.assert(
      fc.property(
        rows,
        settings,
        period,
        fc.constantFrom('order', 'lead', ALL_RESULTS),
        (records, rules, days, result) => {
          for (const gap of gapsOf(records, rules, days, result).values()) {
            const sum = (names: readonly string[], of: 'count' | 'value') =>
              gap.causes.filter(line => names.includes(line.cause)).reduce((all, line) => all + line[of], 0)
            expect(thousandths(gap.orders - gap.claims)).toBe(
              thousandths(sum(orderCauses, 'count') - sum(claimCauses, 'count')),
            )
            expect(gap.orders - gap.matched).toBe(sum(orderCauses, 'count'))
            expect(gap.ordersValue - gap.claimsValue).toBe(
              sum(orderCauses, 'value') - sum(claimCauses, 'value') + sum(['value_differs'], 'value'),
            )
          }
        },
      ),
    )
  })
  it('of the whole is that of its parts, at every level', () => {
    fc.assert(
      fc.property(rows, settings, period, (records, rules, days) => {
        const gaps = new Map(
          [...gapsOf(records, rules, days)].map(([key, gap]) => [
            key,
            { path: pathOf(key), sum: numbers(gap) },
          ]),
        )
        for (const { path, sum } of gaps.values()) {
          const parts = [...gaps.values()].filter(
            part => part.path.length === path.length + 1 && path.every((id, i) => part.path[i] === id),
          )
          if (parts.length > 0)
            expect(parts.map(part => part.sum).reduce((x, y) => x.map((n, i) => n + y[i]!))).toEqual(sum)
          else expect([1, 4]).toContain(path.length)
        }
      }),
    )
  })
  it('is the same in whatever order records come', () => {
    fc.assert(
      fc.property(rows, settings, period, fc.infiniteStream(fc.nat()), (records, rules, days, draws) => {
        const shuffled = <T>(list: readonly T[] = []): T[] =>
          list
            .map(item => ({ item, at: draws.next().value as number }))
            .sort((a, b) => a.at - b.at)
            .map(one => one.item)
        /** as records are kept: each under a key of its own, in order of time */
        const kept = (some: Rows, mix: typeof shuffled): Rows => {
          const met = new Map<string, number>()
          const claimRows = mix(some.claimRows).map(row => {
            const content = JSON.stringify(row)
            met.set(content, (met.get(content) ?? 0) + 1)
            return { ...row, claim_key: `${content} ${met.get(content)}` }
          })
          return {
            clicks: mix(some.clicks),
            claims: mix(some.claims),
            orders: inOrder('orders', mix(some.orders)),
            claimRows: inOrder('claimRows', claimRows as never),
          }
        }
        const mixed = kept(records, shuffled)
        const plain = kept(records, (list = []) => [...list])
        const sorted = (gaps: ReturnType<typeof gapsOf>) =>
          [...gaps].map(([key, gap]) => [key, numbers(gap)]).sort()
        expect(sorted(gapsOf(mixed, rules, days))).toEqual(sorted(gapsOf(plain, rules, days)))
      }),
    )
  })
})
