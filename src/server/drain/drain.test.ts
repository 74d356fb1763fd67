import { appendFileSync, mkdirSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { inArray, sql } from 'drizzle-orm'
import { v7 } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { ClickArrival } from '@/core/intake/arrival'
import { partnerSchema } from '@/core/intake/postback'
import type { Database } from '@/data/connect'
import { savePartner } from '@/data/intake'
import { applyChanges } from '@/data/links'
import { loadClicks } from '@/data/loadRecords'
import { clicks, events, orders, sales, setAside } from '@/data/schema'
import { countClicksByDay } from '@/data/sources'
import { openTestDatabase } from '@/data/testDatabase'
import { findWorkspace } from '@/data/workspace'
import { writeLine } from '@/formats/journalLine'
import { importFile } from '../import/importFile'
import { asideGroups, mendGroup } from '../setAside'
import { drainOnce } from './drain'
import { countLines } from './readJournal'

const BROWSER = 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0'
let database: Database
let folder: string
let stop: () => Promise<void>
afterAll(() => stop())

let segment: string
let latest: string
const append = (...records: object[]) => appendFileSync(latest, records.map(writeLine).join(''))
const drainAll = async () => {
  while ((await drainOnce(database, folder)) !== null);
}

describe('draining the journal', () => {
  const click = (id: string, query: string): ClickArrival => ({
    kind: 'click',
    id,
    at: Date.UTC(2026, 9, 6, 12),
    workspace: 'w',
    network: 'norrfeed',
    code: 'no1',
    query,
    landing: `https://tarnbrook.example/?${query}`,
    visitor: 'v1',
    from: '192.0.2.0',
    agent: BROWSER,
  })
  const write = (...records: object[]) => appendFileSync(segment, records.map(writeLine).join(''))
  const drained = async () => loadClicks(database, 'w')
  beforeAll(async () => {
    ;({ database, folder, stop } = await openTestDatabase())
    const workspace = (await findWorkspace(database, 'w'))!
    await importFile(
      database,
      workspace,
      'delivery',
      'date,network,campaign_id,campaign_name,ad_set_id,ad_id,ad_name,currency,spend\n2026-10-01,norrfeed,c1,New name,s1,a1,Oak,EUR,1.00\n',
    )
    segment = join(folder, 'journal', '000000000000001.ndjson')
    latest = join(folder, 'journal', '000000000000002.ndjson')
    mkdirSync(join(folder, 'journal'), { recursive: true })
    const after = {
      utm_source: 'norrfeed',
      utm_campaign: '{campaign.name}',
      utm_content: '{ad.id}',
      spot: '{placement}',
    }
    await applyChanges(database, 'w', [
      { what: 'plan', network: 'norrfeed', level: 'account', scope: '', before: {}, after },
    ])
  })
  it('names campaign and ad by the tag plan, and leaves an unresolved value out', async () => {
    write(
      click('k1', 'utm_source=norrfeed&utm_campaign=New%20name&utm_content=a1&spot=feed&nfref=nf1'),
      click('k2', 'utm_content=[[ad_ref]]'),
    )
    await drainAll()
    const [k1, k2] = (await drained()).sort((a, b) => a.click_id.localeCompare(b.click_id))
    expect(k1).toMatchObject({
      campaign_id: 'c1',
      ad_set_id: 's1',
      ad_id: 'a1',
      placement: 'feed',
      network_click_id: 'nf1',
      visitor_id: 'v1',
    })
    expect(k2).toMatchObject({ network: 'norrfeed', ad_id: null })
  })
  it('goes on where it was before journals had names', async () => {
    const old = join(folder, 'journal', '000000000000001.ndjson')
    const size = statSync(old).size
    await database.execute(sql`delete from drain_positions`)
    await database.execute(
      sql`insert into drain_positions (workspace, journal, segment, "offset") values ('main', 'local', '000000000000001.ndjson', ${size})`,
    )
    expect(await drainOnce(database, folder)).toBeNull()
    const { rows } = await database.execute(
      sql`select journal <> 'local' as named, "offset"::int as at from drain_positions`,
    )
    expect(rows).toEqual([{ named: true, at: size }])
  })
  it('takes each record once: after a failure half-way, a torn line, or a position that was lost', async () => {
    await database.execute(
      sql`alter table drain_positions add constraint fails check ("offset" < 0) not valid`,
    )
    write(click('k3', ''))
    await expect(drainOnce(database, folder)).rejects.toThrow()
    expect((await drained()).map(c => c.click_id)).not.toContain('k3')
    await database.execute(sql`alter table drain_positions drop constraint fails`)
    const whole = writeLine(click('k4', '')).trimEnd()
    appendFileSync(segment, whole.slice(0, 30))
    await drainAll()
    expect((await drained()).map(c => c.click_id)).not.toContain('k4')
    appendFileSync(segment, `${whole.slice(30)}\nnot json at all\n`)
    await drainAll()
    await database.execute(sql`delete from drain_positions`)
    await drainAll()
    expect((await drained()).map(c => c.click_id).sort()).toEqual(['k1', 'k2', 'k3', 'k4'])
  })

  it('sets aside what a crash cut short, once, and goes on with the next segment', async () => {
    const cut = writeLine(click('k5', '')).slice(0, 40)
    appendFileSync(segment, `\n${cut}`)
    writeFileSync(join(folder, 'journal', '000000000000002.ndjson'), `\n${writeLine(click('k6', ''))}`)
    await drainAll()
    await drainAll()
    expect((await drained()).map(c => c.click_id)).toContain('k6')
    const aside = await database.select().from(setAside)
    expect(aside.filter(a => a.raw === cut).map(a => [a.kind, a.reason])).toEqual([['line', 'torn_line']])
  })
  it('marks programs and repeats: kept, and evidence, but not counted', async () => {
    const robot = { ...click('k7', ''), agent: 'ExampleBot/2.1 (+https://robot.example/bot)', visitor: 'v7' }
    const twice = { ...click('k8', ''), visitor: 'v8' }
    append(robot, twice, { ...twice, id: 'k9', at: twice.at + 900 })
    await drainAll()
    const marks = await database
      .select({ id: clicks.click_id, bot: clicks.bot, repeated: clicks.repeated })
      .from(clicks)
      .where(inArray(clicks.click_id, ['k7', 'k8', 'k9']))
    expect(marks.sort((a, b) => a.id.localeCompare(b.id))).toEqual([
      { id: 'k7', bot: true, repeated: false },
      { id: 'k8', bot: false, repeated: false },
      { id: 'k9', bot: false, repeated: true },
    ])
    // What is marked is not among the clicks that count.
    const kept = await database.select().from(clicks)
    const counted = await countClicksByDay(database, 'w', { from: 0, until: Date.UTC(9999, 0, 1) }, 'UTC')
    expect(counted.reduce((sum, { count }) => sum + count, 0)).toBe(
      kept.filter(c => c.workspace === 'w' && !c.bot && !c.repeated).length,
    )
  })
  it('counts the records that wait, not the empty lines between them', async () => {
    const waiting = join(folder, 'waiting.ndjson')
    const [one, two] = [writeLine(click('w1', '')), writeLine(click('w2', ''))]
    writeFileSync(waiting, `\n${one}${two}\n${one}`)
    expect(await countLines(waiting, 0)).toBe(3)
    expect(await countLines(waiting, 1 + Buffer.byteLength(one))).toBe(2)
  })
  it('takes the same event once, on whichever day it is sent again', async () => {
    const at = Date.UTC(2026, 9, 6, 23, 59, 50)
    const event = {
      kind: 'event',
      id: v7({ msecs: at }),
      at,
      workspace: 'w',
      from: '192.0.2.0',
      agent: BROWSER,
      name: 'page',
      zone: 'Europe/Lisbon',
    }
    append(event, { ...event, at: at + 60_000 })
    await drainAll()
    expect(await database.select().from(events)).toMatchObject([
      { event_id: event.id, country: 'PT', bot: false },
    ])
  })
})

describe('postbacks', () => {
  const T = Date.UTC(2026, 9, 7, 9)
  let number = 0
  const say = async (query: string, at = T + ++number * 1000) => {
    append({
      kind: 'postback',
      id: `p${number++}-${at}`,
      at,
      workspace: 'w',
      from: '192.0.2.0',
      agent: 'partner/1',
      partner: 'corvane',
      query,
    })
    await drainAll()
  }
  const sale = async (deal: string) =>
    (await database.select().from(sales))
      .filter(s => s.deal === deal)
      .map(s => [s.status, s.amount, s.click_id])
  const order = async (deal: string) =>
    (await database.select().from(orders))
      .filter(o => o.order_id === `corvane:${deal}`)
      .map(o => [o.status, o.total, o.result, o.click_id])
  beforeAll(() =>
    savePartner(database, 'w', {
      code: 'corvane1',
      secret: null,
      partner: partnerSchema.parse({
        id: 'corvane',
        name: 'Corvane',
        result: 'course',
        currency: 'EUR',
        click_parameter: 'p1',
        parameters: { click: 'p1', deal: 'deal', amount: 'amount', currency: 'cur', status: 'state' },
        statuses: { approved: ['ok'], reversed: ['void'] },
      }),
    }),
  )
  it('make one sale of a deal, however often it is told, and an order once it is approved', async () => {
    await say('p1=k1&deal=d1&amount=49.00&state=pending')
    expect([await sale('d1'), await order('d1')]).toEqual([[['pending', 4900, 'k1']], []])
    await say('p1=k1&deal=d1&amount=49.00&state=ok')
    await say('p1=k1&deal=d1&amount=49.00&state=ok')
    expect(await order('d1')).toEqual([['paid', 4900, 'course', 'k1']])
    await say('deal=d1&state=void')
    expect([await sale('d1'), await order('d1')]).toEqual([
      [['reversed', 4900, 'k1']],
      [['cancelled', 4900, 'course', 'k1']],
    ])
  })
  it('may come out of order: the latest word holds', async () => {
    await say('deal=d2&state=void', T + 90_000)
    await say('deal=d2&p1=k3&amount=10&state=approved', T + 80_000)
    expect(await sale('d2')).toEqual([['reversed', 1000, 'k3']])
  })
  it('keep an amount in its own currency, when a later one says a currency and no amount', async () => {
    await say('deal=d9&amount=10&cur=EUR&p1=k1')
    await say('deal=d9&cur=JPY&state=ok')
    const held = (await database.select().from(sales)).filter(s => s.deal === 'd9')
    expect(held.map(s => [s.amount, s.currency])).toEqual([[1000, 'EUR']])
  })
  it('keep what cannot be read, with the parameter and value that cannot', async () => {
    await say('deal=d3&amount=lots')
    await say('deal=d4&state=maybe')
    await say('amount=5')
    const aside = (await database.select().from(setAside)).filter(a => a.kind === 'postback')
    expect(aside.map(a => [a.reason, a.facts.parameter, a.facts.value])).toEqual([
      ['not_an_amount', 'amount', 'lots'],
      ['unknown_status', 'state', 'maybe'],
      ['no_deal', 'deal', ''],
    ])
    expect([await sale('d3'), await sale('d4')]).toEqual([[], []])
  })
  it('are taken in once somebody says what an unknown word means, with all that are alike', async () => {
    const workspace = (await findWorkspace(database, 'w'))!
    await say('deal=d5&amount=7&state=maybe')
    const group = (await asideGroups(database, 'w')).find(g => g.reason === 'unknown_status')!
    expect(group.count).toBe(2)
    expect(await mendGroup(database, workspace, group, { do: 'status', means: 'approved' })).toBe(2)
    expect([await sale('d4'), await sale('d5')]).toEqual([
      [['approved', null, null]],
      [['approved', 700, null]],
    ])
    await say('deal=d6&amount=8&state=maybe')
    expect(await sale('d6')).toEqual([['approved', 800, null]])
  })
  it('can be dropped', async () => {
    const workspace = (await findWorkspace(database, 'w'))!
    for (const group of await asideGroups(database, 'w'))
      await mendGroup(database, workspace, group, { do: 'drop' })
    expect(await asideGroups(database, 'w')).toEqual([])
  })
})
