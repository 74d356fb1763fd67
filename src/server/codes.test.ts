import { createHash } from 'node:crypto'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Database } from '@/data/connect'
import { openTestDatabase } from '@/data/testDatabase'
import { createWorkspace, findWorkspace, listRoutes } from '@/data/workspace'
import { importFile } from './import/importFile'
import { orderSecrets, replaceOrderSecret } from './orderWebhook'
import { keepRoute, pageCodes, publishRoutes, unpublished } from './routes'

let database: Database
let folder: string
let stop: () => Promise<void>
const page = 'https://tarnbrook.example/kits'
const former = `no${createHash('sha256').update('https://tarnbrook.example/old').digest('hex').slice(0, 6)}`
beforeAll(async () => {
  ;({ database, folder, stop } = await openTestDatabase())
  await database.execute(sql`insert into routes (workspace, code, network, landings)
    values ('w', ${former}, 'norrfeed', '[{"address":"https://tarnbrook.example/old","weight":1}]')`)
  const rows = [
    `norrfeed,c1,a1,${page}`,
    'norrfeed,c1,a2,https://tarnbrook.example/old',
    'Nörr feed,c1,a3,https://tarnbrook.example/x',
  ]
  await importFile(
    database,
    (await findWorkspace(database, 'w'))!,
    'ads',
    `network,campaign_id,ad_id,landing_page\n${rows.join('\n')}\n`,
  )
})
afterAll(() => stop())

describe('codes of the tracking domain', () => {
  it('are the same for a page every time, and told to nobody by the page or by another workspace', async () => {
    const own = await pageCodes(database, 'w')
    expect(own.codeOf('norrfeed', page)).toBe((await pageCodes(database, 'w')).codeOf('norrfeed', page))
    expect(own.codeOf('norrfeed', page)).toMatch(/^no[\w-]{14}$/)
    expect(own.codeOf('Nörr feed', page)).toMatch(/^[A-Za-z0-9_-]{1,64}$/)
    await createWorkspace(database, 'other', 'Other', (await findWorkspace(database, 'w'))!.settings, [])
    expect((await pageCodes(database, 'other')).codeOf('norrfeed', page)).not.toBe(
      own.codeOf('norrfeed', page),
    )
  })
  it('of another workspace are nobody else’s to give', async () => {
    const route = {
      code: former,
      network: 'norrfeed',
      landings: [{ address: page, weight: 1 }],
      offers: [],
      paused: false,
    }
    expect(await keepRoute(database, { ...route, workspace: 'other' })).toContain('is taken')
    const leads = async () => (await listRoutes(database)).find(r => r.code === former)
    expect(await leads()).toMatchObject({
      workspace: 'w',
      landings: [{ address: 'https://tarnbrook.example/old' }],
    })
    expect(await keepRoute(database, { ...route, workspace: 'w' })).toBeNull()
    expect(await leads()).toMatchObject({ workspace: 'w', landings: [{ address: page }] })
    await keepRoute(database, {
      ...route,
      landings: [{ address: 'https://tarnbrook.example/old', weight: 1 }],
      workspace: 'w',
    })
  })
  it('are those of whoever had them first, where two workspaces that stood apart have the same', async () => {
    const insert = (table: string, columns: string, values: string) =>
      database.execute(sql.raw(`insert into ${table} (workspace, given_at, ${columns}) values ${values}`))
    const landing = (path: string) =>
      `'norrfeed', '[{"address":"https://tarnbrook.example/${path}","weight":1}]'`
    await insert(
      'routes',
      'code, network, landings',
      `('other', '2026-03-02', 'both', ${landing('later')}), ('w', '2026-03-01', 'both', ${landing('first')})`,
    )
    // The one who had it first cannot be led by it, and nobody else may be.
    await insert(
      'routes',
      'code, network, landings',
      `('w', '2026-03-01', 'broken', 'norrfeed', '[]'), ('other', '2026-03-02', 'broken', ${landing('later')})`,
    )
    await insert('sites', 'key', `('other', '2026-03-02', 'site'), ('w', '2026-03-01', 'site')`)
    await publishRoutes(database, 'w', folder)
    const { codes, sites } = JSON.parse(readFileSync(join(folder, 'routing.json'), 'utf8'))
    expect(codes.both).toMatchObject({
      workspace: 'w',
      landings: [{ address: 'https://tarnbrook.example/first' }],
    })
    expect(codes.broken).toBeUndefined()
    expect(sites.site).toMatchObject({ workspace: 'w' })
    expect(unpublished().routes).toEqual([
      expect.objectContaining({ workspace: 'w', code: 'broken' }),
      { workspace: 'other', code: 'both', why: 'Another workspace had it first.' },
      { workspace: 'other', code: 'broken', why: 'Another workspace had it first.' },
    ])
    await database.execute(sql`delete from routes where code in ('both', 'broken')`)
  })
  it('go on leading where they led before they could not be guessed', async () => {
    const { codeOf } = await pageCodes(database, 'w')
    expect(codeOf('norrfeed', 'https://tarnbrook.example/old')).toBe(former)
    await publishRoutes(database, 'w', folder)
    const { codes } = JSON.parse(readFileSync(join(folder, 'routing.json'), 'utf8'))
    expect(Object.keys(codes).sort()).toEqual(
      [former, codeOf('norrfeed', page), codeOf('Nörr feed', 'https://tarnbrook.example/x')].sort(),
    )
  })
})

it('gives out a new secret for orders, and takes the old one for two days more', async () => {
  const old = (await orderSecrets(database, 'w'))[0]!.value
  const now = Date.now()
  await replaceOrderSecret(database, 'w', now)
  const secrets = await orderSecrets(database, 'w')
  expect(secrets).toEqual([
    { value: expect.not.stringContaining(old), until: null },
    { value: old, until: now + 2 * 86_400_000 },
  ])
})
