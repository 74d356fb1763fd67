import { sql } from 'drizzle-orm'
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { formatDay } from '@/core/shared/days'
import type { Database } from '@/data/connect'
import { countAside } from '@/data/intake'
import { loadRecords } from '@/data/loadRecords'
import { openTestDatabase } from '@/data/testDatabase'
import { findWorkspace, type Workspace } from '@/data/workspace'
import { FileRefused, writeCsv } from '@/formats/csv'
import { exportedFiles, rowsOf } from './exportedFiles'
import { importFile } from './import/importFile'
import { compareReport, lookAtReport, takeReport } from './import/report'
import { runJob } from './import/runJob'
import { asideGroups, mendGroup } from './setAside'

let database: Database
let stop: () => Promise<void>
let workspace: Workspace

beforeAll(async () => {
  ;({ database, stop } = await openTestDatabase())
  workspace = (await findWorkspace(database, 'w'))!
})
afterAll(() => stop())

const delivery = writeCsv(
  [
    'date',
    'network',
    'campaign_id',
    'campaign_name',
    'ad_set_id',
    'ad_id',
    'ad_name',
    'currency',
    'spend',
    'clicks',
    'mood',
  ],
  [
    {
      date: '2026-10-01',
      network: 'norrfeed',
      campaign_id: 'c1',
      campaign_name: 'Old name',
      ad_set_id: 's1',
      ad_id: 'a1',
      ad_name: '=HYPERLINK("x")',
      currency: 'EUR',
      spend: '10.50',
      clicks: 5,
      mood: 'calm',
    },
    {
      date: '2026-10-02',
      network: 'norrfeed',
      campaign_id: 'c1',
      campaign_name: 'New name',
      ad_set_id: 's1',
      ad_id: 'a1',
      ad_name: '=HYPERLINK("x")',
      currency: 'EUR',
      spend: '11.00',
      clicks: 6,
      mood: '',
    },
  ],
)
const claimLine = '2026-10-03T10:00:00Z,norrfeed,a1,purchase,click,T1,20.00,EUR'
const claims = `claimed_at,network,ad_id,conversion,kind,transaction_id,value,currency\n${claimLine}\n${claimLine}\n`

it('keeps many connections’ queries apart', async () => {
  const numbers = Array.from({ length: 200 }, (_, i) => i)
  const echo = (i: number) =>
    database.execute<{ n: number }>(sql`select ${i}::int as n, ${'x'.repeat(i * 50)}::text as t`)
  expect((await Promise.all(numbers.map(echo))).map(r => r.rows[0]!.n)).toEqual(numbers)
})

describe('importing', () => {
  it('changes nothing when the same file comes again, and keeps a claim that was reported twice', async () => {
    expect(await importFile(database, workspace, 'delivery', delivery)).toMatchObject({
      accepted: 2,
      duplicates: 0,
    })
    expect(await importFile(database, workspace, 'claim-rows', claims)).toMatchObject({
      accepted: 2,
      duplicates: 0,
    })
    const before = await exportedFiles(database, workspace)
    const { version } = (await findWorkspace(database, 'w'))!
    expect(await importFile(database, workspace, 'delivery', delivery)).toMatchObject({
      accepted: 0,
      duplicates: 2,
    })
    expect(await importFile(database, workspace, 'claim-rows', claims)).toMatchObject({
      accepted: 0,
      duplicates: 2,
    })
    expect(await exportedFiles(database, workspace)).toEqual(before)
    expect((await findWorkspace(database, 'w'))!.version).toBe(version)
  })
  it('lets go of rejected rows when their correction is in, and of no others', async () => {
    const header = 'order_id,ordered_at,status,currency,total,note'
    const row = (id: string, rest: string) => `${id},2026-10-06T10:00:00Z,${rest}`
    const file = (...rows: string[]) => [header, ...rows, ''].join('\n')
    const waiting = () => countAside(database, 'w')
    const none = await waiting()
    const bad = file(
      row('R1', 'lost,EUR,10.00,a'),
      row('R2', 'paid,EUR,1O.00,b'),
      row('', 'paid,EUR,12.00,c'),
      row('R4', 'paid,EUR,13.00,"d'),
    )
    expect((await importFile(database, workspace, 'orders', bad, { file: 'may.csv' })).rejected).toHaveLength(
      4,
    )
    expect(await waiting()).toBe(none + 4)
    // Another file of the same name, with other orders on the same lines, corrects nothing.
    const other = file(
      ...['S1', 'S2', 'S3', 'S4'].map(id => `${id},2026-10-07T11:00:00Z,refunded,EUR,99.00,z`),
    )
    await importFile(database, workspace, 'orders', other, { file: 'may.csv' })
    expect(await waiting()).toBe(none + 4)
    // The second row alone, in a file of its own.
    await importFile(database, workspace, 'orders', file(row('R2', 'paid,EUR,10.00,b')), { file: 'two.csv' })
    expect(await waiting()).toBe(none + 3)
    const good = file(
      row('R1', 'paid,EUR,10.00,a'),
      row('R2', 'paid,EUR,10.00,b'),
      row('R3', 'paid,EUR,12.00,c'),
      row('R4', 'paid,EUR,13.00,d'),
    )
    await importFile(database, workspace, 'orders', good, { file: 'may corrected.csv' })
    // The one without an order ID, and the one that could not be parted into cells, are only proposed.
    expect(await waiting()).toBe(none + 2)
    const { rows } = await database.execute<{ raw: string }>(
      sql`select raw from set_aside where settled is null and raw like '%may corrected.csv%'`,
    )
    expect(rows.map(({ raw }) => JSON.parse(raw).proposed).sort((a, b) => a.line - b.line)).toEqual([
      { file: 'may corrected.csv', line: 4 },
      { file: 'may corrected.csv', line: 5 },
    ])
    await database.execute(sql`update set_aside set settled = 'dropped' where raw like '%may corrected.csv%'`)
  })
  it('keeps every rejected row until it is held or dropped, whatever else comes', async () => {
    const header = 'order_id,ordered_at,status,currency,total'
    const id = fc.integer({ min: 1, max: 6 }).map(n => `L${n}`)
    const status = fc.constantFrom('paid', 'cancelled', 'unheard-of', 'nonsense')
    const row = fc.record({
      id: fc.oneof(id, fc.constant('')),
      status,
      total: fc.constantFrom('5.00', '6.00', 'x'),
    })
    const act = fc.oneof(
      {
        weight: 3,
        arbitrary: fc.record({
          do: fc.constant('file' as const),
          rows: fc.array(row, { minLength: 1, maxLength: 4 }),
        }),
      },
      {
        weight: 2,
        arbitrary: fc.record({
          do: fc.constant('mend' as const),
          which: fc.nat(20),
          value: fc.constantFrom('paid', 'wrong'),
        }),
      },
      { weight: 1, arbitrary: fc.record({ do: fc.constant('drop' as const), which: fc.nat(20) }) },
    )
    await fc.assert(
      fc.asyncProperty(fc.array(act, { minLength: 2, maxLength: 7 }), async acts => {
        await database.execute(sql`delete from set_aside where kind = 'row'`)
        await database.execute(
          sql`delete from orders where order_id like 'L%' or order_id in ('paid', 'wrong')`,
        )
        for (const [i, one] of acts.entries()) {
          if (one.do === 'file') {
            const rows = one.rows.map(r => `${r.id},2026-10-06T10:00:00Z,${r.status},EUR,${r.total}`)
            await importFile(database, workspace, 'orders', [header, ...rows, ''].join('\n'), {
              file: `f${i}.csv`,
            })
            continue
          }
          const all = (await asideGroups(database, 'w')).filter(g => g.kind === 'row')
          const group = all[one.which % Math.max(1, all.length)]
          if (!group) continue
          const only = group.items[one.which % group.items.length]!.id
          const how = one.do === 'drop' ? { do: 'drop' as const } : { do: 'value' as const, value: one.value }
          await mendGroup(database, workspace, group, how, only)
        }
        const { rows } = await database.execute<{ settled: string | null; raw: string }>(
          sql`select settled, raw from set_aside where kind = 'row'`,
        )
        const held = new Set((await loadRecords(database, 'w')).orders.map(o => o.order_id))
        // One without an order ID is settled by hand alone, under the ID that it was given there.
        for (const { settled, raw } of rows) {
          const own = JSON.parse(raw).cells.order_id
          const ids = own ? [own] : ['paid', 'wrong']
          if (settled === 'taken') expect(ids.some(id => held.has(id))).toBe(true)
        }
      }),
      { numRuns: 25 },
    )
  }, 60_000)
  it('sets aside what has no exchange rate, and takes it in once there is one', async () => {
    const foreign =
      'order_id,ordered_at,status,currency,total\nF1,2026-10-05T10:00:00Z,paid,USD,100.00\nF2,2026-10-05T10:00:00Z,paid,EUR,50.00\n'
    const first = await importFile(database, workspace, 'orders', foreign)
    expect(first).toMatchObject({
      accepted: 1,
      rejected: [{ line: 2, column: 'currency', reason: 'no_rate' }],
    })
    await importFile(database, workspace, 'rates', 'date,base,quote,rate\n2026-10-01,EUR,USD,1.10\n')
    expect(await importFile(database, workspace, 'orders', foreign)).toMatchObject({
      accepted: 1,
      duplicates: 1,
      rejected: [],
    })
  })
  it('takes two files of a kind one after the other, whichever was sent first', async () => {
    const file = (total: string) =>
      `order_id,ordered_at,status,currency,total\n${Array.from({ length: 50 }, (_, i) => `TWO${i},2026-10-05T10:00:00Z,paid,EUR,${total}`).join('\n')}\n`
    const outcomes = await Promise.all(
      ['5.00', '6.00', '5.00'].map(total =>
        runJob('file', workspace, { kind: 'orders' as const, content: file(total) }, {}, database),
      ),
    )
    expect(outcomes.map(o => [o.accepted, o.duplicates])).toEqual([
      [50, 0],
      [50, 0],
      [50, 0],
    ])
    const { orders } = await loadRecords(database, 'w')
    expect(new Set(orders.filter(o => o.order_id.startsWith('TWO')).map(o => o.total))).toEqual(
      new Set([500]),
    )
  })
  it('leaves nothing behind of a file that is refused', async () => {
    const before = await loadRecords(database, 'w')
    await expect(importFile(database, workspace, 'orders', 'order_id,total\nX1,1\n')).rejects.toThrow(
      FileRefused,
    )
    expect(await loadRecords(database, 'w')).toEqual(before)
  })
  it('exports what it took in: names, attributes, and formulas made harmless', async () => {
    const files = await exportedFiles(database, workspace)
    const rows = rowsOf(files['delivery.csv']!)
    expect(rows.map(r => [r.date, r.spend, r.campaign_name, r.mood]).sort()).toEqual([
      ['2026-10-01', '10.50', 'Old name', 'calm'],
      ['2026-10-02', '11.00', 'New name', ''],
    ])
    expect(files['delivery.csv']).not.toMatch(/,"?=HYPERLINK/)
    const names = await database.execute(
      sql`select name from ad_entity_names where level = 'campaign' order by first_day`,
    )
    expect(names.rows.map(r => r.name)).toEqual(['Old name', 'New name'])
  })
})

describe('what a file got wrong', () => {
  const file = (rows: string[]) => `order_id,ordered_at,status,currency,total\n${rows.join('\n')}\n`
  const order = async (id: string) =>
    (await loadRecords(database, 'w')).orders.filter(o => o.order_id === id).map(o => [o.status, o.total])
  const groups = () => asideGroups(database, 'w')

  it('is set aside once, however often the file comes, and taken in when a cell is corrected', async () => {
    const wrong = file(['M1,2026-10-05T10:00:00Z,payed,EUR,"1\n2"', 'M2,2026-10-05T10:00:00Z,payed,EUR,7.00'])
    await importFile(database, workspace, 'orders', wrong)
    await importFile(database, workspace, 'orders', wrong)
    const [group] = (await groups()).filter(g => g.facts.value === 'payed')
    expect(group).toMatchObject({ kind: 'row', count: 2, correctable: true, facts: { column: 'status' } })
    // One of them has a second mistake: it stays aside, for that one.
    expect(await mendGroup(database, workspace, group!, { do: 'value', value: 'paid' })).toBe(1)
    expect([await order('M2'), await order('M1')]).toEqual([[['paid', 700]], []])
    const left = (await groups()).filter(g => g.kind === 'row' && g.facts.file === 'orders')
    expect(left.map(g => [g.reason, g.facts.column])).toContainEqual(['not_an_amount', 'total'])
  })
  it('is never lost by a correction that is wrong too, nor by taking that back', async () => {
    await importFile(database, workspace, 'orders', file(['M4,2026-10-05T10:00:00Z,settled,EUR,4.00']))
    const waits = async (value: string) => (await groups()).find(g => g.facts.value === value)
    for (const [from, to] of [
      ['settled', 'settled'],
      ['settled', 'booked'],
      ['booked', 'settled'],
    ] as const) {
      expect(await mendGroup(database, workspace, (await waits(from))!, { do: 'value', value: to })).toBe(0)
      expect(await waits(to)).toMatchObject({ count: 1 })
      if (from !== to) expect(await waits(from)).toBeUndefined()
    }
    const last = (await waits('settled'))!
    expect(await mendGroup(database, workspace, last, { do: 'value', value: 'paid' })).toBe(1)
    expect(await order('M4')).toEqual([['paid', 400]])
  })
  it('is taken in when the rate that lacked is added', async () => {
    await importFile(database, workspace, 'orders', file(['M3,2026-10-05T10:00:00Z,paid,SEK,110.00']))
    const [group] = (await groups()).filter(g => g.reason === 'no_rate' && g.facts.value === 'SEK')
    expect(await mendGroup(database, workspace, group!, { do: 'again' })).toBe(0)
    expect(
      await mendGroup(database, workspace, group!, { do: 'rate', date: '2026-10-05', rate: '0.09' }),
    ).toBe(1)
    expect(await order('M3')).toEqual([['paid', 11000]])
  })
  it('can be stopped: what went in stays, and the same file goes on', async () => {
    const rows = Array.from({ length: 5000 }, (_, i) => `N${i},2026-10-06T10:00:00Z,paid,EUR,1.00`)
    const stop = new AbortController()
    const first = await importFile(database, workspace, 'orders', file(rows), {
      signal: stop.signal,
      progress: () => stop.abort(),
    })
    expect(first).toMatchObject({ cancelled: true, duplicates: 0 })
    expect(first.accepted).toBeLessThan(5000)
    const second = await importFile(database, workspace, 'orders', file(rows))
    expect(first.accepted + second.accepted).toBe(5000)
  })
  it('holds the last of several rows of one order, however far apart, and is the same when it comes again', async () => {
    const row = (i: number, total: string) => `P${i},2026-10-06T10:00:00Z,paid,EUR,${total}`
    const rows = [
      row(0, '5.00'),
      ...Array.from({ length: 9000 }, (_, i) => row(i, '1.00')),
      row(1, '7.00'),
      row(8000, '1.00'),
    ]
    const outcome = { rejected: [], cancelled: false }
    const take = () => importFile(database, workspace, 'orders', file(rows))
    expect(await take()).toMatchObject({ accepted: 9000, duplicates: 3, ...outcome })
    expect(await order('P0')).toEqual([['paid', 100]])
    expect(await order('P1')).toEqual([['paid', 700]])
    expect(await take()).toMatchObject({ accepted: 0, duplicates: 9003, ...outcome })
  })
})

describe('a network’s report', () => {
  const content = (rows: string[]) =>
    `Day,Campaign ref,Ad ref,Spent (EUR),Clicks,Purchases\n${rows.join('\n')}\n`
  const spend = async () =>
    (await loadRecords(database, 'w')).delivery
      .filter(d => d.network === 'kelpie')
      .map(d => [formatDay(d.date), d.ad_id, d.spend])
      .sort()
  it('replaces the days that it holds and no other, as it said before', async () => {
    const look = await lookAtReport(database, workspace, 'kelpie', content(['2026-10-01,c1,a1,5.00,9,1']))
    const { mapping } = look
    const input = (rows: string[]) => ({ network: 'kelpie', file: 'report', mapping, content: content(rows) })
    await takeReport(
      database,
      workspace,
      input(['2026-10-01,c1,a1,5.00,9,1', '2026-10-01,c1,a2,2.00,3,0', '2026-10-02,c1,a1,6.00,8,2']),
    )
    // The ad a2 is gone from the first day, and a1 was restated.
    const again = input(['2026-10-01,c1,a1,4.50,8,1'])
    expect((await compareReport(database, workspace, again)).days).toMatchObject([
      {
        day: '2026-10-01',
        before: { spend: 700, clicks: 12, claims: 1 },
        after: { spend: 450, clicks: 8, claims: 1 },
      },
    ])
    await takeReport(database, workspace, again)
    expect(await spend()).toEqual([
      ['2026-10-01', 'a1', 450],
      ['2026-10-02', 'a1', 600],
    ])
    // A report of conversions alone leaves what its days cost.
    const { date, ad_id, click_through, campaign_id } = mapping.columns
    expect(click_through).toBe('Purchases')
    const claimsAlone = { ...mapping, columns: { date, ad_id, click_through, campaign_id } }
    await takeReport(database, workspace, { ...input(['2026-10-02,c1,a1,6.00,8,5']), mapping: claimsAlone })
    expect(await spend()).toEqual([
      ['2026-10-01', 'a1', 450],
      ['2026-10-02', 'a1', 600],
    ])
    await takeReport(database, workspace, again)
    expect(await lookAtReport(database, workspace, 'kelpie', content([]))).toMatchObject({
      saved: true,
      mapping,
    })
  })
})
