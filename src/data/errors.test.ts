import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, expect, it, vi } from 'vitest'
import type { Database } from './connect'
import { DatabaseAway, DiskFull, isOfRecords, plainError, QueryFailed, ReadOnly } from './errors'
import { secrets } from './schema'
import { openTestDatabase } from './testDatabase'

let database: Database
let stop: () => Promise<void>
beforeAll(async () => {
  ;({ database, stop } = await openTestDatabase())
})
afterAll(() => stop())

const SECRET = 'whsec_nobody-may-read-this'
const said = (error: unknown) => JSON.stringify(error, Object.getOwnPropertyNames(error as object))

it('tells of a failed statement what is wrong with it and nothing that was in it', async () => {
  const row = { workspace: 'w', name: 'twice', value: SECRET }
  await database.insert(secrets).values(row)
  for (const attempt of [
    () => database.insert(secrets).values(row),
    () => database.transaction(inner => inner.insert(secrets).values(row)),
    () => database.execute(sql`select ${SECRET}::text::no_such_type`),
  ]) {
    const error = await attempt().then(
      () => null,
      (e: unknown) => e,
    )
    expect(error).toBeInstanceOf(QueryFailed)
    expect(said(error)).not.toContain(SECRET)
    expect((error as Error).stack).not.toContain(SECRET)
  }
})
it('gives every connection back, also when the work on it failed', async () => {
  for (let i = 0; i < 30; i++)
    await database
      .transaction(async () => {
        throw new Error('our own')
      })
      .catch(() => {})
  expect((await database.execute(sql`select 1 as one`)).rows).toEqual([{ one: 1 }])
})
it.each([
  [new DatabaseAway('Connection terminated'), false],
  [plainError(Object.assign(new Error('disk full'), { code: '53100', severity: 'ERROR' })), false],
  [plainError(Object.assign(new Error('deadlock'), { code: '40P01', severity: 'ERROR' })), false],
  [plainError(Object.assign(new Error('no such table'), { code: '42P01', severity: 'ERROR' })), false],
  [plainError(Object.assign(new Error('refused'), { code: 'ECONNREFUSED' })), false],
  [plainError(Object.assign(new Error('write EPIPE'), { code: 'EPIPE' })), false],
  [plainError(Object.assign(new Error('invalid byte'), { code: '22021', severity: 'ERROR' })), true],
  [plainError(Object.assign(new Error('index row too long'), { code: '54000', severity: 'ERROR' })), true],
  [new TypeError('our own reading stumbled'), true],
])('%s lies in the records: %s', (error, is) => {
  expect(isOfRecords(error)).toBe(is)
})
it('tells a full disk from a server that lets nobody write', () => {
  const refusal = (code: string) => plainError(Object.assign(new Error('no'), { code, severity: 'ERROR' }))
  expect(refusal('53100')).toBeInstanceOf(DiskFull)
  expect(refusal('25006')).toBeInstanceOf(DiskFull)
  vi.stubEnv('DATABASE_URL', 'postgres://somewhere.example')
  expect(refusal('25006')).toBeInstanceOf(ReadOnly)
  expect(refusal('53300')).toBeInstanceOf(DatabaseAway)
  expect(refusal('57P03')).toBeInstanceOf(DatabaseAway)
  vi.unstubAllEnvs()
})
