import { appendFileSync, existsSync, mkdirSync, rmSync, utimesSync, writeFileSync } from 'node:fs'
import { basename, join } from 'node:path'
import { sql } from 'drizzle-orm'
import { describe, expect, it } from 'vitest'
import { Journal } from '@/collector/journal'
import type { Database } from '@/data/connect'
import { events, orders, testRecords } from '@/data/schema'
import { openTestDatabase } from '@/data/testDatabase'
import { findWorkspace } from '@/data/workspace'
import { writeLine } from '@/formats/journalLine'
import { importFile } from '../import/importFile'
import { listJournalFaults } from '../standing'
import { drainOnce, tidyJournal } from './drain'

const DAY = 86_400_000
const NOW = Date.UTC(2026, 10, 20, 12)

/** A database and a journal of some segments, each with one event and of an age in days. */
async function journalOf(...ages: number[]) {
  const opened = await openTestDatabase()
  await findWorkspace(opened.database, 'w')
  const journal = join(opened.folder, 'journal')
  mkdirSync(journal, { recursive: true })
  const path = (i: number) => join(journal, `${String(i + 1).padStart(15, '0')}.ndjson`)
  ages.forEach((age, i) => {
    writeFileSync(path(i), writeLine(event(`e${i}`)))
    utimesSync(path(i), new Date(NOW - age * DAY), new Date(NOW - age * DAY))
  })
  const drainAll = async () => {
    while ((await drainOnce(opened.database, opened.folder)) !== null);
  }
  const left = () => ages.map((_, i) => existsSync(path(i)))
  return { ...opened, path, drainAll, left }
}
const event = (id: string, more: object = {}) => ({
  kind: 'event',
  id,
  at: NOW - DAY,
  workspace: 'w',
  name: 'page',
  page: 'https://tarnbrook.example/',
  visitor: 'v1',
  click: null,
  value: null,
  currency: null,
  transaction: null,
  rule: null,
  from: '192.0.2.0',
  agent: 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0',
  ...more,
})

describe('a segment of the journal', () => {
  it('is removed a week after it was taken in whole, and never the last', async () => {
    const { database, folder, drainAll, left, path, stop } = await journalOf(9, 7.01, 6.9, 30)
    // Nothing of it is taken in yet: it stays, however old.
    await tidyJournal(database, folder, NOW)
    expect(left()).toEqual([true, true, true, true])
    await drainAll()
    // What was written on after it was taken in, stays too.
    appendFileSync(path(0), writeLine(event('late')))
    utimesSync(path(0), new Date(NOW - 9 * DAY), new Date(NOW - 9 * DAY))
    await tidyJournal(database, folder, NOW)
    expect(left()).toEqual([true, false, true, true])
    await drainAll()
    await tidyJournal(database, folder, NOW)
    expect(left()).toEqual([false, false, true, true])
    await tidyJournal(database, folder, NOW + DAY)
    expect(left()).toEqual([false, false, false, true])
    const { rows } = await database.execute(sql`select segment from drain_positions`)
    expect(rows).toEqual([{ segment: '000000000000004.ndjson' }])
    expect((await database.select().from(events)).map(e => e.event_id).sort()).toEqual([
      'e0',
      'e1',
      'e2',
      'e3',
      'late',
    ])
    await stop()
  })
  it('is left alone where there is but one, or none', async () => {
    const { database, folder, drainAll, left, stop } = await journalOf(100)
    await drainAll()
    await tidyJournal(database, folder, NOW)
    expect(left()).toEqual([true])
    await stop()
  })
})

it('keeps what belongs to a live test apart, and makes its order a test', async () => {
  const { database, drainAll, path, stop } = await journalOf(1)
  const workspace = (await findWorkspace(database, 'w'))!
  await importFile(
    database,
    workspace,
    'orders',
    'order_id,ordered_at,status,currency,total\nT-1,2026-11-19T12:00:00Z,paid,EUR,49.00\nT-2,2026-11-19T12:00:00Z,paid,EUR,49.00\n',
  )
  const seen = {
    test: 'token',
    view: 'view-0001',
    page: 'https://tarnbrook.example/',
    title: 'Looms',
    opened: 1,
    after_ms: 3000,
    code: [],
    requests: [],
    called: [],
    errors: [],
  }
  appendFileSync(
    path(0),
    [
      { kind: 'observation', id: 'o1', at: NOW - DAY, workspace: 'w', from: '', agent: '', seen },
      event('mine', { test: 'token', name: 'order', transaction: 'T-1' }),
      event('page', { test: 'token' }),
      event('theirs', { name: 'order', transaction: 'T-2' }),
    ]
      .map(writeLine)
      .join(''),
  )
  await drainAll()
  const kept = await database.select().from(testRecords).orderBy(testRecords.id)
  expect(kept.map(({ token, kind, id, transaction_id }) => [token, kind, id, transaction_id])).toEqual([
    ['token', 'event', 'mine', 'T-1'],
    ['token', 'event', 'page', null],
    ['token', 'observation', 'view-0001', null],
  ])
  expect(kept[2]!.record).toMatchObject({ title: 'Looms' })
  expect(kept[0]!.record).toMatchObject({ id: 'mine', transaction: 'T-1' })
  expect((await database.select().from(events)).map(e => e.event_id).sort()).toEqual(['e0', 'theirs'])
  const statuses = await database.select().from(orders).orderBy(orders.order_id)
  expect(statuses.map(o => [o.order_id, o.status])).toEqual([
    ['T-1', 'test'],
    ['T-2', 'paid'],
  ])
  await stop()
})

describe('a journal whose folder was tampered with', () => {
  const stored = async (database: Database) =>
    (await database.select().from(events)).map(e => e.event_id).sort()
  it('loses nothing of what comes after its newest segments are gone, and names them', async () => {
    const { database, folder, drainAll, path, stop } = await journalOf(1, 1, 1)
    await drainAll()
    rmSync(path(1))
    rmSync(path(2))
    const journal = new Journal(join(folder, 'journal'))
    await journal.append(...Array.from({ length: 70 }, (_, i) => event(`after-${i}`)))
    journal.close()
    await drainAll()
    expect((await stored(database)).filter(id => id.startsWith('after-'))).toHaveLength(70)
    const named = listJournalFaults().map(fault => fault.what)
    for (const gone of [path(1), path(2)]) expect(named).toContain(`the journal file ${basename(gone)}`)
    await stop()
  })
  it('is read from its beginning where a segment is shorter than what was read of it', async () => {
    const { database, drainAll, path, stop } = await journalOf(1, 1)
    await drainAll()
    writeFileSync(path(1), writeLine({ ...event('x'), page: null }))
    await drainAll()
    expect(await stored(database)).toEqual(['e0', 'e1', 'x'])
    expect(listJournalFaults().find(fault => fault.what.endsWith(basename(path(1))))?.why).toContain(
      'read once more',
    )
    await stop()
  })
  it('is taken in as another where its name is another', async () => {
    const { database, folder, drainAll, path, stop } = await journalOf(1)
    await drainAll()
    rmSync(join(folder, 'journal', 'id'))
    appendFileSync(path(0), writeLine(event('more')))
    await drainAll()
    expect(await stored(database)).toEqual(['e0', 'more'])
    await stop()
  })
  it('names no segment as gone that was removed by itself, wherever that ended', async () => {
    const { database, folder, drainAll, path, stop } = await journalOf(20, 1)
    await drainAll()
    const before = listJournalFaults().length
    // It ended between the two steps.
    await database.execute(sql`update drain_positions set "offset" = -1 where segment = ${basename(path(0))}`)
    rmSync(path(0))
    await drainAll()
    await tidyJournal(database, folder, NOW)
    expect(listJournalFaults()).toHaveLength(before)
    await stop()
  })
})
