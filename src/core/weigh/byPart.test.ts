import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { clickColumns } from '../intake/clicks'
import { buildDataset } from '../intake/dataset'
import { exchangeFiles } from '../intake/records'
import { settingsSchema } from '../intake/settings'
import { namingRuleSchema } from '../links/naming'
import { pathKey } from '../shared/path'
import { dimensionsOf, readNames } from './byPart'
import { type Evidence, gatherEvidence } from './evidence'
import { addSums, noSums } from './figures'
import { judge, judgeByPart } from './judge'
import { openFigure } from './openFigure'
import { pathAbove } from './rows'

const always = { from: -1e6, to: 1e6 }
const rule = namingRuleSchema.parse({
  level: 'campaign',
  separator: '_',
  parts: [{ name: 'product' }, { name: 'month' }].map(p => ({
    ...p,
    kind: p.name === 'month' ? 'month' : 'text',
  })),
})

interface Ad {
  network: string
  campaign: string
  spend: number
  orders: number
  claims: number
}
function evidenceOf(ads: readonly Ad[]) {
  const delivery = ads.map((ad, i) =>
    exchangeFiles.delivery.schema.parse({
      date: '2026-10-01',
      network: ad.network,
      campaign_id: `c-${ad.campaign}`,
      campaign_name: ad.campaign,
      ad_id: `a${i}`,
      currency: 'EUR',
      spend: (ad.spend / 100).toFixed(2),
    }),
  )
  const clicks = ads.flatMap((ad, i) =>
    Array.from({ length: ad.orders }, (_, o) =>
      exchangeFiles.clicks.schema.parse({
        click_id: `k${i}-${o}`,
        clicked_at: '2026-10-01T08:00:00Z',
        network: ad.network,
        campaign_id: `c-${ad.campaign}`,
        ad_id: `a${i}`,
      }),
    ),
  )
  const orders = clicks.map(({ click_id }) =>
    exchangeFiles.orders.schema.parse({
      order_id: `o-${click_id}`,
      ordered_at: '2026-10-01T10:00:00Z',
      status: 'paid',
      currency: 'EUR',
      total: '49.99',
      click_id,
    }),
  )
  const claims = ads.map((ad, i) =>
    exchangeFiles.claims.schema.parse({
      date: '2026-10-01',
      network: ad.network,
      ad_id: `a${i}`,
      conversion: 'order',
      click_through: String(ad.claims),
      view_through: '0',
      value: '0',
      currency: 'EUR',
    }),
  )
  return gatherEvidence(
    buildDataset(
      { delivery, orders, claims, claimRows: [], rates: [], clicks: clickColumns(clicks) },
      settingsSchema.parse({}),
    ),
  )
}
/** The same evidence with its names read by the rule. */
const named = (evidence: Evidence): Evidence => ({
  ...evidence,
  data: { ...evidence.data, tree: readNames(evidence.data.tree, [rule]) },
})
const isEqual = (a: readonly string[] | null, b: readonly string[]) =>
  a !== null && pathKey(...a) === pathKey(...b)

const ads = fc.array(
  fc.record({
    network: fc.constantFrom('norrfeed', 'kelpie'),
    campaign: fc.constantFrom('looms_2026-10', 'looms_2026-11', 'yarn_2026-10', 'Autumn', 'yarn_later'),
    spend: fc.integer({ min: 0, max: 100_000 }),
    orders: fc.integer({ min: 0, max: 3 }),
    claims: fc.integer({ min: 0, max: 4 }),
  }),
  { minLength: 1, maxLength: 10 },
)

describe('grouping by what names say', () => {
  it('loses and doubles nothing: the rows of any part sum to the totals, and campaigns to their row', () => {
    fc.assert(
      fc.property(ads, rows => {
        const evidence = named(evidenceOf(rows))
        const { totals } = judge(evidence, always)
        for (const { id } of dimensionsOf([rule])) {
          const judged = judgeByPart(evidence, always, id, '')
          const heads = judged.filter(r => r.level === 'part')
          const sum = (of: typeof judged) => of.reduce((s, r) => addSums(s, r.sums), noSums())
          expect(sum(heads)).toEqual(totals.sums)
          for (const head of heads)
            expect(sum(judged.filter(r => isEqual(pathAbove(r), head.path)))).toEqual(head.sums)
          expect(new Set(judged.map(r => pathKey(...r.path))).size).toBe(judged.length)
        }
      }),
      { numRuns: 60 },
    )
  })

  it('puts each campaign under what its name says, and those that do not keep to the rule under nothing', () => {
    const ad = { network: 'norrfeed', spend: 1000, orders: 1, claims: 0 }
    const campaigns = ['looms_2026-10', 'yarn_2026-10', 'looms_2026-11', 'Autumn']
    const evidence = named(evidenceOf(campaigns.map(campaign => ({ ...ad, campaign }))))
    const heads = judgeByPart(evidence, always, 'campaign.product', '').filter(r => r.level === 'part')
    expect(heads.map(r => [r.name, r.sums.spend])).toEqual([
      ['looms', 2000],
      ['yarn', 1000],
      ['', 1000],
    ])
    const opened = (scope: object) => openFigure(evidence, 'proven', scope, always).orders.length
    expect(opened({ part: 'campaign.product', value: 'looms' })).toBe(2)
    expect(opened({ part: 'campaign.product', value: '' })).toBe(1)
    expect(opened({ part: 'campaign.month', value: '2026-10', network: 'kelpie' })).toBe(0)
  })

  it('follows a rule that is changed', () => {
    const evidence = evidenceOf([
      { network: 'kelpie', campaign: 'looms_2026-10', spend: 1, orders: 0, claims: 0 },
    ])
    expect(readNames(evidence.data.tree, [rule]).leaves[0]?.parts).toEqual({
      'campaign.product': 'looms',
      'campaign.month': '2026-10',
    })
    const elsewhere = { ...rule, networks: ['norrfeed'] }
    expect(readNames(evidence.data.tree, [elsewhere]).leaves[0]?.parts).toEqual({})
    expect(evidence.data.tree.leaves[0]?.parts).toBeUndefined()
  })
})
