import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { DAY_MS } from '@/core/shared/days'
import { ruleSchema } from '@/core/signals/rule'
import { decideApart, listApart } from '@/data/apart'
import type { Database } from '@/data/connect'
import { resultEventsAfter, saveRule } from '@/data/signals'
import { openTestDatabase } from '@/data/testDatabase'
import { findWorkspace } from '@/data/workspace'
import { importFile } from '../import/importFile'
import { storeArrivals } from './storeArrivals'
import { watchClicks, watchResults } from './watch'

const NOW = Date.UTC(2026, 10, 20, 20)
let database: Database
let stop: () => Promise<void>
beforeAll(async () => {
  ;({ database, stop } = await openTestDatabase())
  const thanks = { id: 'thanks', result: 'booklet', when: { on: 'page' } }
  await saveRule(database, 'w', ruleSchema.parse(thanks))
})
afterAll(() => stop())

let number = 0
const AGENT = 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0'
const event = (at: number, from: string, more: object = {}) => ({
  kind: 'event' as const,
  id: `event-${++number}`,
  at,
  workspace: 'w',
  from,
  agent: AGENT,
  name: 'booklet',
  rule: 'thanks',
  page: 'https://tarnbrook.example/thanks',
  ...more,
})
/** Somebody who opens the page before asking for a booklet. */
const shopper = (at: number, i: number) => {
  const visitor = `v${at}-${i}`
  return [
    event(at, `class${i % 30}`, { name: 'page', rule: undefined, visitor }),
    event(at + 20_000, `class${i % 30}`, { visitor }),
  ]
}
const day = (ago: number, n: number) =>
  Array.from({ length: n }, (_, i) => shopper(NOW - ago * DAY_MS - i * 600_000, i)).flat()
const counted = async () => (await resultEventsAfter(database, 'w', -1)).length

describe('what browsers told of late', () => {
  it('counts on common days, and is kept apart as a flood until somebody decides', async () => {
    for (let ago = 20; ago >= 0; ago--) await storeArrivals(database, day(ago, 40))
    expect(await watchResults(database, 'w', NOW)).toBe(0)
    const before = await counted()
    expect(before).toBe(21 * 40)

    const forged = Array.from({ length: 200 }, (_, i) => event(NOW - 1000 * i, `forger${i % 4}`))
    await storeArrivals(database, forged)
    await storeArrivals(
      database,
      day(0, 3).map(e => ({ ...e, id: `${e.id}-late` })),
    )
    expect(await watchResults(database, 'w', NOW)).toBe(200)
    expect(await counted()).toBe(before + 3)
    // Once more it is as it was.
    expect(await watchResults(database, 'w', NOW)).toBe(0)
    const groups = await listApart(database, 'w', 10)
    expect(groups).toMatchObject([{ kind: 'event', of: 'booklet', count: 200, senders: 4, agents: 1 }])

    expect(await decideApart(database, 'w', groups[0]!, true)).toBe(200)
    expect(await watchResults(database, 'w', NOW)).toBe(0)
    expect([await counted(), await listApart(database, 'w', 10)]).toEqual([before + 203, []])
  })
  it('stays left out where somebody said so, and shows no more', async () => {
    const before = await counted()
    await storeArrivals(
      database,
      Array.from({ length: 50 }, () => event(NOW, 'one-click', { click: 'k1', visitor: 'v-again' })),
    )
    await watchResults(database, 'w', NOW)
    const [group] = await listApart(database, 'w', 10)
    await decideApart(database, 'w', group!, false)
    expect(await watchResults(database, 'w', NOW)).toBe(0)
    expect([await counted(), await listApart(database, 'w', 10)]).toEqual([before, []])
  })
  it('is shown with why where it does not fit its rule, and counts once somebody says so', async () => {
    const before = await counted()
    await storeArrivals(database, [event(NOW, 'class1', { rule: 'nobody-wrote-it', visitor: 'v-odd' })])
    const [group] = await listApart(database, 'w', 10)
    expect([group!.reason, await counted()]).toEqual(['no_such_rule', before])
    await decideApart(database, 'w', group!, true)
    expect(await counted()).toBe(before + 1)
  })
})

describe('clicks that nobody follows', () => {
  it('are kept apart where they come by the many from one place', async () => {
    const columns = 'network,campaign_id,ad_id,landing_page'
    const workspace = (await findWorkspace(database, 'w'))!
    await importFile(
      database,
      workspace,
      'ads',
      `${columns}\nnorrfeed,c1,a1,https://tarnbrook.example/kits\n`,
    )
    const click = (id: string, from: string) => ({
      kind: 'click' as const,
      id,
      at: NOW,
      workspace: 'w',
      from,
      agent: AGENT,
      network: 'norrfeed',
      code: 'x',
      query: '',
      landing: 'https://tarnbrook.example/kits',
      visitor: null,
    })
    const genuine = Array.from({ length: 90 }, (_, i) => click(`fair-${i}`, `class${i % 9}`))
    await storeArrivals(database, genuine)
    await storeArrivals(
      database,
      genuine
        .slice(0, 60)
        .map(({ id, from }) => event(NOW, from, { name: 'page', rule: undefined, click: id })),
    )
    expect(await watchClicks(database, 'w', NOW)).toBe(0)
    await storeArrivals(
      database,
      Array.from({ length: 300 }, (_, i) => click(`flood-${i}`, 'flood')),
    )
    expect(await watchClicks(database, 'w', NOW)).toBe(1)
    const uncounted = async () =>
      (await database.execute<{ n: number }>(sql`select count(*)::int as n from clicks where bot`)).rows[0]!.n
    expect(await uncounted()).toBe(300)
    expect(await watchClicks(database, 'w', NOW)).toBe(0)
    const [group] = await listApart(database, 'w', 10)
    expect(group).toMatchObject({ kind: 'click', of: 'norrfeed', reason: 'not_followed', count: 300 })
    await decideApart(database, 'w', group!, true)
    expect([await watchClicks(database, 'w', NOW), await uncounted()]).toEqual([0, 0])
  })
})
