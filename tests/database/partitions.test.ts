/**
 * The same records on a PostgreSQL server: in tables parted by month, of two workspaces beside each other, and spread
 * over two servers. Every figure is what it is in one piece.
 */
import { sql } from 'drizzle-orm'
import { drizzle } from 'drizzle-orm/node-postgres'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { settingsSchema } from '@/core/intake/settings'
import { shippedProfiles } from '@/core/links/profiles'
import { formatDay, parseDay, spanOf } from '@/core/shared/days'
import { type Database, openDatabase } from '@/data/connect'
import { addMonths, migrateDatabase, runMigrations } from '@/data/migrate'
import { partitioned } from '@/data/partitions'
import * as schema from '@/data/schema'
import { countClicksByDay } from '@/data/sources'
import { createWorkspace, findWorkspace } from '@/data/workspace'
import { writeCsv } from '@/formats/csv'
import { type Market, simulateMarket } from '@/practice/market/simulate'
import { evidenceKeeper } from '@/server/compute/evidenceOf'
import { judgeView } from '@/server/compute/views/judged'
import { reconcileView } from '@/server/compute/views/reconcile'
import { importFile } from '@/server/import/importFile'
import { hasPostgres, type PostgresServer, startPostgres } from '../postgres'

const today = Math.floor(Date.now() / 86_400_000)
const end = today - 1
const first = end - 99
const always = { from: parseDay('1970-01-01')!, to: parseDay('2099-12-31')! }
const months = [{ from: first, to: first + 20 }, { from: end - 20, to: end }, always]

/** A market whose claims come as lists and as sums, so that every table of records holds something. */
const marketOf = (seed: number) => simulateMarket({ seed, days: 100, scale: 0.15, end })
async function fill(database: Database, workspace: string, market: Market) {
  const settings = settingsSchema.parse(market.settings)
  await createWorkspace(database, workspace, workspace, settings, shippedProfiles)
  const found = (await findWorkspace(database, workspace))!
  const listed = (row: { network?: string | number }) => row.network === 'kelpie'
  const files = {
    delivery: market.delivery,
    clicks: market.clicks,
    orders: market.orders,
    'claim-rows': market.claimRows.filter(listed),
    claims: market.claims.filter(row => !listed(row)),
  }
  for (const [kind, rows] of Object.entries(files) as [keyof typeof files, Record<string, unknown>[]][])
    await importFile(database, found, kind, writeCsv(Object.keys(rows[0]!), rows))
}

/** What screens and the command line show of a workspace, of all its days and of some. */
async function figuresOf(database: Database, workspace: string) {
  const evidence = await evidenceKeeper(database)(workspace, 'order')
  const zone = evidence.data.settings.time_zone
  return Promise.all(
    months.map(async period => {
      const clicks = await countClicksByDay(database, workspace, spanOf(period, zone), zone)
      return {
        judged: (['campaign', 'ad_set', 'ad'] as const).map(level => judgeView(evidence, { period, level })),
        gap: reconcileView(evidence, { period, scope: {} }),
        clicks: clicks.map(one => JSON.stringify(one)).sort(),
      }
    }),
  )
}

const opened: { close: () => Promise<void> }[] = []
const servers: PostgresServer[] = []
async function server(): Promise<PostgresServer> {
  const started = await startPostgres()
  servers.push(started)
  return started
}
/** A database of a server by its name; made where it is not there. */
function open(url: string): Database {
  process.env.DATABASE_URL = url
  const own = openDatabase()
  opened.push(own)
  return own.database
}
async function rowsOf<Row extends Record<string, unknown>>(database: Database, text: string) {
  return (await database.execute<Row>(sql.raw(text))).rows
}

describe.skipIf(!hasPostgres())('on a PostgreSQL server', () => {
  let database: Database
  let whole: Awaited<ReturnType<typeof figuresOf>>
  const market = marketOf(3)

  beforeAll(async () => {
    database = open((await server()).url)
    await database.transaction(transaction => runMigrations(transaction))
    await fill(database, 'one', market)
    whole = await figuresOf(database, 'one')
  }, 120_000)
  afterAll(async () => {
    for (const { close } of opened) await close()
    for (const one of servers) one.stop('fast')
    delete process.env.DATABASE_URL
  })

  const partitionsOf = async (table: string) =>
    (
      await rowsOf<{ name: string }>(
        database,
        `select inhrelid::regclass::text as name from pg_inherits where inhparent = '${table}'::regclass order by 1`,
      )
    ).map(({ name }) => name)
  const countIn = async (table: string) =>
    Number((await rowsOf<{ n: string }>(database, `select count(*) as n from ${table}`))[0]!.n)

  it('tables of before are parted by month, with all that they hold, their keys, indexes and views', async () => {
    const shape = () =>
      rowsOf(
        database,
        `select tablename, indexname, replace(indexdef, ' ON ONLY ', ' ON ') as definition from pg_indexes
         where tablename in (${partitioned.map(table => `'${table}'`).join()}) order by 1, 2`,
      )
    const counts = () => Promise.all([...partitioned, 'visitors'].map(countIn))
    const before = { shape: await shape(), counts: await counts() }
    expect(before.counts[0]).toBeGreaterThan(1000)

    await migrateDatabase(database)
    expect({ shape: await shape(), counts: await counts() }).toEqual(before)
    for (const table of partitioned) {
      const names = await partitionsOf(table)
      const wanted = [0, 31, 62].map(days =>
        formatDay(today + days)
          .slice(0, 7)
          .replace('-', '_'),
      )
      expect(names.length).toBeGreaterThanOrEqual(3)
      expect(names).toEqual(expect.arrayContaining([`${table}_undated`, `${table}_${wanted[0]}`]))
      expect(await countIn(`${table}_undated`)).toBe(0)
    }
    expect(await figuresOf(database, 'one')).toEqual(whole)
    // Again, it does nothing.
    const parted = await partitionsOf('clicks')
    await migrateDatabase(database)
    expect(await partitionsOf('clicks')).toEqual(parted)
  })

  it('a question about a period is planned for its partitions alone', async () => {
    const client = new pg.Client({ connectionString: process.env.DATABASE_URL })
    await client.connect()
    const asked: { query: string; params: unknown[] }[] = []
    const logged = drizzle(client, {
      schema,
      logger: { logQuery: (query, params) => asked.push({ query, params }) },
    })
    const middle = { from: end - 45, to: end - 44 }
    const found = await countClicksByDay(logged, 'one', spanOf(middle, 'UTC'), 'UTC')
    expect(found.length).toBeGreaterThan(0)
    const { query, params } = asked[0]!
    const { rows } = await client.query<Record<string, string>>(`explain ${query}`, params)
    await client.end()
    const plan = rows.map(row => Object.values(row)[0]).join('\n')
    const planned = new Set([...plan.matchAll(/ on (clicks_\w+)/g)].map(([, name]) => name))
    const own = [middle.from, middle.to + 1].map(
      day => `clicks_${formatDay(day).slice(0, 7).replace('-', '_')}`,
    )
    expect(planned).toEqual(new Set(own))
  })

  it('what is dated where there is no partition yet waits for it, and what is dated out of all bounds has none', async () => {
    const workspace = (await findWorkspace(database, 'one'))!
    const old = formatDay(today - 6 * 365)
    const clicks = [old, '1971-01-01'].map(day => `odd-${day},${day}T10:00:00Z,norrfeed,nc100`)
    await importFile(
      database,
      workspace,
      'clicks',
      `click_id,clicked_at,network,campaign_id\n${clicks.join('\n')}\n`,
    )
    expect(await countIn('clicks_undated')).toBe(2)
    await addMonths(database)
    expect(await countIn(`clicks_${old.slice(0, 7).replace('-', '_')}`)).toBe(1)
    expect(await countIn('clicks_undated')).toBe(1)
    expect(await partitionsOf('clicks')).not.toContain('clicks_1971_01')
    await database.execute(sql`delete from clicks where click_id like 'odd-%'`)
  })

  it('two workspaces never meet, though all their records bear the same IDs', async () => {
    const other = marketOf(4)
    const named = { ...other, orders: other.orders.map((row, i) => ({ ...row, order_id: `T${10_000 + i}` })) }
    await fill(database, 'two', named)
    await fill(database, 'twin', market)
    expect(await figuresOf(database, 'one')).toEqual(whole)
    expect(await figuresOf(database, 'twin')).toEqual(whole)
    expect(await figuresOf(database, 'two')).not.toEqual(whole)
  })

  it('spread over two servers by workspace, read by their own applications or through one, figures are the same', async () => {
    const two = await figuresOf(database, 'two')
    const far = await server()
    const there = open(far.url)
    await migrateDatabase(there)
    const near = await server()
    const here = open(near.url)
    await migrateDatabase(here)
    await fill(here, 'one', market)
    const other = marketOf(4)
    await fill(there, 'two', {
      ...other,
      orders: other.orders.map((row, i) => ({ ...row, order_id: `T${10_000 + i}` })),
    })
    expect(await figuresOf(here, 'one')).toEqual(whole)
    expect(await figuresOf(there, 'two')).toEqual(two)

    const everywhere = open(await spread(here, near.url, far.url))
    expect(await figuresOf(everywhere, 'one')).toEqual(whole)
    expect(await figuresOf(everywhere, 'two')).toEqual(two)
    // And it is the other server that was asked.
    expect(await figuresOf(here, 'two').catch(() => 'nothing of it')).toBe('nothing of it')
  }, 180_000)
})

/**
 * Puts tables of both servers under one roof: each is parted by workspace, of which one part stands here and one is a
 * foreign table of the other server.
 *
 * @returns the address by which an application reads all of it
 */
async function spread(here: Database, nearUrl: string, farUrl: string): Promise<string> {
  const { hostname, port, username, pathname } = new URL(farUrl)
  const run = (text: string) => here.execute(sql.raw(text))
  await run('create extension postgres_fdw')
  await run(
    `create server far foreign data wrapper postgres_fdw options (host '${hostname}', port '${port}', dbname '${pathname.slice(1)}')`,
  )
  await run(`create user mapping for current_user server far options (user '${username}')`)
  await run('create schema far_away')
  await run('import foreign schema public from server far into far_away')
  await run('create schema everywhere')
  const tables = await rowsOf<{ name: string; key: string }>(
    here,
    `select relname as name, case when relname = 'workspaces' then 'id' else 'workspace' end as key from pg_class
     where relnamespace = 'public'::regnamespace and relkind in ('r', 'p') and not relispartition`,
  )
  for (const { name, key } of tables) {
    await run(
      `create table everywhere.${name} (like public.${name} including defaults) partition by list (${key})`,
    )
    await run(`alter table everywhere.${name} attach partition far_away.${name} for values in ('two')`)
    await run(`alter table everywhere.${name} attach partition public.${name} for values in ('one')`)
  }
  return `${nearUrl}?options=${encodeURIComponent('-c search_path=everywhere')}`
}
