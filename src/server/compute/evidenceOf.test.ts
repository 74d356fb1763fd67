import { existsSync, readFileSync, rmSync, truncateSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { isDeepStrictEqual } from 'node:util'
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import type { Arrival } from '@/core/intake/arrival'
import type { ExportMapping } from '@/core/intake/shopExport/mapping'
import { shippedProfiles } from '@/core/links/profiles'
import { resultSchema } from '@/core/signals/result'
import { ruleSchema } from '@/core/signals/rule'
import type { Evidence } from '@/core/weigh/evidence'
import { saveRule } from '@/data/signals'
import { openTestDatabase } from '@/data/testDatabase'
import { findWorkspace, tellSnapshot } from '@/data/workspace'
import { decide, undo } from '../decisions'
import { storeArrivals } from '../drain/storeArrivals'
import { importFile } from '../import/importFile'
import { lookAtReport, takeReport } from '../import/report'
import { lookAtExport, takeExport } from '../import/shopExport'
import { keepProfile } from '../links/profiles'
import { remove, undoRemoval } from '../removal'
import { keepDefinition, keepSlot } from '../signals/definitions'
import { evidenceKeeper } from './evidenceOf'
import { loadAll } from './loaded'
import { readSnapshot, writeSnapshot } from './snapshot'
import { judgeView } from './views/judged'

let db: Awaited<ReturnType<typeof openTestDatabase>>
beforeAll(async () => {
  db = await openTestDatabase()
  const rule = ruleSchema.parse({ id: 'of-lead', result: 'lead', when: { on: 'page' } })
  await saveRule(db.database, 'w', rule)
})
afterAll(() => db.stop())
const here = async () => (await findWorkspace(db.database, 'w'))!

type Kind = Parameters<typeof importFile>[2]
const fileOf =
  (kind: Kind, ...rows: Record<string, string>[]) =>
  async () => {
    const columns = [...new Set(rows.flatMap(row => Object.keys(row)))]
    const lines = rows.map(row => columns.map(column => row[column] ?? '').join(','))
    const { accepted } = await importFile(
      db.database,
      await here(),
      kind,
      `${columns.join(',')}\n${lines.join('\n')}\n`,
    )
    expect(accepted).toBeGreaterThan(0)
  }
const order = (order_id: string, day: number, more: Record<string, string> = {}) => ({
  order_id,
  ordered_at: `2026-10-${String(day).padStart(2, '0')}T12:00:00Z`,
  status: 'paid',
  currency: 'EUR',
  total: '40.00',
  ...more,
})
const click = (click_id: string, day: number, more: Record<string, string> = {}) => ({
  click_id,
  clicked_at: `2026-10-${String(day).padStart(2, '0')}T09:00:00Z`,
  network: 'norrfeed',
  campaign_id: 'c1',
  ad_id: 'a1',
  ...more,
})
const spend = (date: string, more: Record<string, string> = {}) => ({
  date,
  network: 'norrfeed',
  campaign_id: 'c1',
  campaign_name: 'Autumn',
  ad_id: 'a1',
  currency: 'EUR',
  spend: '10.00',
  ...more,
})
const claim = (transaction_id: string, day: number, more: Record<string, string> = {}) => ({
  claimed_at: `2026-10-${String(day).padStart(2, '0')}T12:05:00Z`,
  network: 'norrfeed',
  ad_id: 'a1',
  conversion: 'purchase',
  kind: 'click',
  transaction_id,
  value: '40.00',
  currency: 'EUR',
  ...more,
})
const told = (id: string, day: number, more: object): Arrival => ({
  kind: 'event',
  id,
  at: Date.UTC(2026, 9, day, 12),
  workspace: 'w',
  from: '192.0.2.0',
  agent: 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0',
  name: 'lead',
  rule: 'of-lead',
  page: 'https://tarnbrook.example/thanks',
  ...more,
})
const lead = resultSchema.parse({
  id: 'lead',
  name: 'Lead',
  kind: 'lead',
  currency: 'EUR',
  value: { by: 'fixed', amount: 300 },
  count: 'once',
  click_window_days: 30,
  view_window_days: 0,
  credit: 'last_click',
})

/** A file of the shop's, read by a mapping. */
const shopFile = (mapping: Partial<ExportMapping>, content: string) => async () => {
  const { mapping: guess } = await lookAtExport(db.database, await here(), content)
  const input = { file: 'shop.csv', mapping: { ...guess, ...mapping }, content }
  const { accepted } = await takeExport(db.database, await here(), input)
  expect(accepted).toBe(1)
}

let decision = ''
let removed = ''
/** What may happen to a workspace, one thing after the other. */
const happenings: [string, () => Promise<unknown>][] = [
  [
    'orders',
    fileOf(
      'orders',
      order('o1', 5, { click_id: 'k1' }),
      order('o2', 6, { visitor_id: 'v2', customer_id: 'u' }),
    ),
  ],
  ['spend', fileOf('delivery', spend('2026-10-05'), spend('2026-10-06', { ad_id: 'a2' }))],
  [
    'clicks, one of them of an order that is there',
    fileOf('clicks', click('k1', 4), click('k9', 4, { ad_id: 'a7' })),
  ],
  ['a claim', fileOf('claim-rows', claim('o1', 5), claim('', 6))],
  [
    'a click before, of a visitor who ordered',
    fileOf('clicks', click('k2', 3, { visitor_id: 'v2', ad_id: 'a2' })),
  ],
  [
    'an order by a customer who came before',
    fileOf('orders', order('o3', 9, { customer_id: 'u', total: '18.00' })),
  ],
  [
    'an order that changed, and names another click',
    fileOf('orders', order('o1', 5, { click_id: 'k9', status: 'partially_refunded', refunded: '5.00' })),
  ],
  [
    'sums of a day',
    fileOf('claims', {
      date: '2026-10-06',
      network: 'mothwire',
      ad_id: 'm1',
      conversion: 'purchase',
      click_through: '2',
      view_through: '0',
      value: '80.00',
      currency: 'EUR',
    }),
  ],
  [
    'another name',
    fileOf('ads', {
      network: 'norrfeed',
      campaign_id: 'c1',
      campaign_name: 'Winter',
      ad_id: 'a1',
      ad_name: 'Loom',
    }),
  ],
  [
    'an order that names its campaign',
    fileOf('orders', order('o4', 10, { utm_source: 'norrfeed', utm_campaign: 'Winter' })),
  ],
  [
    'a result that a rule told',
    async () => {
      await storeArrivals(db.database, [
        told('e1', 8, { visitor: 'v2', click: 'k2' }),
        told('e2', 8, { visitor: 'v5' }),
      ])
    },
  ],
  [
    'its definition',
    async () => expect(await keepDefinition(db.database, 'w', lead, { isNew: true })).toBeNull(),
  ],
  ['what a network calls it', () => keepSlot(db.database, 'w', 'norrfeed', 'lead', 'purchase')],
  ['that taken back', () => keepSlot(db.database, 'w', 'norrfeed', 'lead', '')],
  [
    'a decision',
    async () => {
      const made = await decide(db.database, 'w', { about: 'test', order: 'o2', by: 'Ana', why: 'ours' }, 1)
      if (typeof made === 'string') throw new Error(made)
      decision = made.id
    },
  ],
  ['that undone', async () => expect(await undo(db.database, 'w', decision, 2)).toBe(true)],
  [
    'another window of a network',
    async () => {
      const profile = shippedProfiles.find(p => p.id === 'norrfeed')!
      expect(
        await keepProfile(db.database, await here(), { ...profile, click_window_days: 2 }, { isNew: false }),
      ).toEqual([])
    },
  ],
  [
    'a rate, and an order by it',
    async () => {
      await fileOf('rates', { date: '2026-10-01', base: 'GBP', quote: 'EUR', rate: '1.2' })()
      await fileOf('rates', { date: '2026-10-11', base: 'GBP', quote: 'EUR', rate: '1.3' })()
      await fileOf('orders', order('o5', 11, { currency: 'GBP', total: '10.00' }))()
    },
  ],
  [
    'a file of refunds',
    shopFile(
      { holds: 'refunds', columns: { order_id: 'no', refunded: 'back' } },
      'no,back\no4,10.00\no4,5.00\nnobody,1.00\n',
    ),
  ],
  [
    'a file that says which customers are one',
    async () => {
      await fileOf('orders', order('o6', 12, { customer_id: 'n7' }))()
      await shopFile(
        { holds: 'customers', columns: { customer_id: 'no', email: 'mail' } },
        'no,mail\nn7,u@post.example\nu,U@post.example\n',
      )()
    },
  ],
  [
    'clicks that were removed',
    async () => {
      removed = await remove(db.database, await here(), { kinds: ['clicks', 'events'] }, 3)
    },
  ],
  ['them brought back', async () => undoRemoval(db.database, await here(), removed)],
  [
    'a margin of its own',
    async () =>
      expect(await keepDefinition(db.database, 'w', { ...lead, margin: 0.3 }, { isNew: false })).toBeNull(),
  ],
  [
    'a day reported again, with an ad less',
    async () => {
      const content =
        'date,campaign_id,campaign_name,ad_id,ad_name,spend,clicks,conversions\n2026-10-05,c1,Winter,a1,Loom,3.00,4,1\n2026-10-06,c1,Winter,a1,Loom,2.00,4,0\n'
      const { mapping } = await lookAtReport(db.database, await here(), 'norrfeed', content)
      await takeReport(db.database, await here(), { network: 'norrfeed', file: 'report', mapping, content })
    },
  ],
]

/** What is seen of evidence, whatever its clicks are numbered by. */
const shown = (evidence: Evidence) => {
  const { data, placements, matches } = evidence
  const ad = (leaf: number) => data.tree.leaves[leaf]
  const idOf = (click: number) => data.clicks.ids[click]
  return {
    rows: judgeView(evidence, { period: { from: 0, to: 40_000 }, level: 'ad' }),
    names: data.tree.names,
    delivery: data.delivery.map(({ leaf, ...row }) => ({ ...row, ad: ad(leaf) })),
    orders: data.orders.map(({ named, ...rest }, o) => ({
      id: rest.order_id,
      value: rest.value,
      counts: rest.counts,
      named: named < 0 ? null : ad(named),
      grade: placements[o]!.grade,
      by: placements[o]!.by,
      touches: placements[o]!.touches.map(idOf),
      older: idOf(placements[o]!.older),
      credits: placements[o]!.credits.map(({ click: of, leaf, share }) => [idOf(of), ad(leaf), share]),
    })),
    claims: data.claims.map(({ transaction, value, leaf }, c) => [
      transaction,
      value,
      ad(leaf),
      matches[c]!.by,
      data.orders[matches[c]!.order]?.order_id,
    ]),
  }
}

it('goes on with whatever happens, to what it would be if it were gathered anew', async () => {
  const keep = evidenceKeeper(db.database)
  const asKept = async () => [shown(await keep('w', 'order')), shown(await keep('w', 'lead'))]
  let before = await asKept()
  for (const [what, happen] of happenings) {
    await happen()
    const anew = evidenceKeeper(db.database)
    const after = await asKept()
    expect([what, after]).toEqual([what, [shown(await anew('w', 'order')), shown(await anew('w', 'lead'))]])
    expect([what, isDeepStrictEqual(after, before)]).toEqual([what, false])
    before = after
  }
})

describe('a snapshot', () => {
  const file = () => join(db.folder, 'snapshots', 'w.snapshot')
  const folder = () => join(db.folder, 'snapshots')
  const taken = async () => writeSnapshot(db.database, folder(), 'w', await loadAll(db.database, 'w'))
  const read = () => readSnapshot(db.database, folder(), 'w')

  it('is gone on from, with whatever came since', async () => {
    await taken()
    const { version } = (await read())!
    await fileOf('orders', order('after', 12, { click_id: 'k2' }))()
    await fileOf('delivery', spend('2026-10-12'))()
    expect((await read())!.version).toBe(version)
    const going = evidenceKeeper(db.database, { snapshots: folder() })
    expect(shown(await going('w', 'order'))).toEqual(shown(await evidenceKeeper(db.database)('w', 'order')))
  })
  it('is made by who looks at a workspace that has none', async () => {
    rmSync(folder(), { recursive: true })
    const keep = evidenceKeeper(db.database, { snapshots: folder() })
    const first = shown(await keep('w', 'order'))
    await vi.waitFor(async () => expect(await read()).not.toBeNull())
    expect(shown(await evidenceKeeper(db.database, { snapshots: folder() })('w', 'order'))).toEqual(first)
  })
  it('is read and not written by who only reads it', async () => {
    rmSync(folder(), { recursive: true })
    const only = evidenceKeeper(db.database, { snapshots: folder(), reads: true })
    const first = shown(await only('w', 'order'))
    await taken()
    const written = readFileSync(file())
    await fileOf('orders', order('later', 13, { click_id: 'k2' }))()
    const other = evidenceKeeper(db.database, { snapshots: folder(), reads: true })
    expect(shown(await other('w', 'order'))).toEqual(shown(await only('w', 'order')))
    expect(shown(await only('w', 'order'))).not.toEqual(first)
    expect(readFileSync(file()).equals(written)).toBe(true)
  })
  it.each<[string, () => unknown]>([
    ['is cut', () => truncateSync(file(), 5000)],
    [
      'has a bit that fell over',
      () => {
        const content = readFileSync(file())
        content[4000]! ^= 1
        writeFileSync(file(), content)
      },
    ],
    ['is none', () => writeFileSync(file(), 'nothing')],
    ['is of another database, or of one that was put back', () => tellSnapshot(db.database, 'w', 'another')],
    [
      'is ahead of its database',
      () => db.database.execute(`update workspaces set version = 1 where id = 'w'`),
    ],
  ])('that %s is thrown away, and made again', async (_, harm) => {
    await taken()
    expect(await read()).not.toBeNull()
    await harm()
    expect(await read()).toBeNull()
    expect(existsSync(file())).toBe(false)
    const keep = evidenceKeeper(db.database, { snapshots: folder() })
    expect(shown(await keep('w', 'order'))).toEqual(shown(await evidenceKeeper(db.database)('w', 'order')))
  })
})
