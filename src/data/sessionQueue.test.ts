import { mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { PGlite } from '@electric-sql/pglite'
import { PGLiteSocketServer } from '@electric-sql/pglite-socket'
import fc from 'fast-check'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { plainError } from './errors'
import { guardRoom } from './room'
import { SessionQueue } from './sessionQueue'
import { socketFile } from './socket'

const host = mkdtempSync(join(tmpdir(), 'aequant-queue-'))
let memory: PGlite
let server: PGLiteSocketServer
let hasRoom = true
beforeAll(async () => {
  memory = await PGlite.create()
  server = new PGLiteSocketServer({ db: memory, path: socketFile(host), maxConnections: 32 })
  const guard = guardRoom(
    statement => memory.exec(statement),
    () => hasRoom,
  )
  Object.assign(server, { queryQueue: new SessionQueue(memory, guard) })
  await server.start()
  await memory.exec('create table kept (who int, n int)')
})
afterAll(async () => {
  await server.stop()
  await memory.close()
})
const connect = async () => {
  const client = new pg.Client({ host, user: 'postgres', database: 'postgres' })
  client.on('error', () => {})
  await client.connect()
  return client
}
/** Goes away as a killed process does. */
const vanish = (client: pg.Client) =>
  (client as unknown as { connection: { stream: { destroy: () => void } } }).connection.stream.destroy()

describe('the one session of the embedded database', () => {
  it('is never left with a client that went away, wherever it was', async () => {
    const moments = [
      'before',
      'begin sent',
      'in transaction',
      'in a failed transaction',
      'query sent',
    ] as const
    await fc.assert(
      fc.asyncProperty(fc.array(fc.constantFrom(...moments), { minLength: 1, maxLength: 5 }), async list => {
        await Promise.all(
          list.map(async moment => {
            const client = await connect()
            if (moment === 'begin sent') void client.query('begin').catch(() => {})
            if (moment === 'query sent')
              void client.query('insert into kept values ($1, $2)', [0, 0]).catch(() => {})
            if (moment.includes('transaction')) {
              await client.query('begin')
              await client.query('insert into kept values (1, 1)')
              if (moment === 'in a failed transaction')
                await client.query('select no such thing').catch(() => {})
            }
            vanish(client)
          }),
        )
        const next = await connect()
        const { rows } = await next.query('select count(*)::int as n from kept where who = 1')
        expect(rows).toEqual([{ n: 0 }])
        await next.end()
      }),
      { numRuns: 40 },
    )
  })
  it('mixes no two clients’ queries, in a transaction or out of one', async () => {
    await memory.exec('truncate kept')
    const one = async (who: number) => {
      const client = await connect()
      for (let n = 0; n < 30; n++) {
        const { rows } = await client.query('select $1::int as who, $2::text as said', [who, `n${n}`])
        expect(rows).toEqual([{ who, said: `n${n}` }])
        await client.query('begin')
        await client.query('insert into kept values ($1, $2)', [who, n])
        await client.query(n % 3 === 0 ? 'rollback' : 'commit')
      }
      await client.end()
    }
    await Promise.all([2, 3, 4, 5].map(one))
    const client = await connect()
    const { rows } = await client.query('select who, count(*)::int as n from kept group by 1 order by 1')
    expect(rows).toEqual([2, 3, 4, 5].map(who => ({ who, n: 20 })))
    await client.end()
  })
  it('takes nothing in while the disk has no room, can be read all the time, and goes on afterwards', async () => {
    const [one, other] = [await connect(), await connect()]
    const count = async () =>
      (await one.query('select count(*)::int as n from kept where who = 77')).rows[0].n
    const write = () => other.query('insert into kept values (77, 1)')
    await write()
    await one.query('begin')
    await one.query('insert into kept values (77, 2)')
    hasRoom = false
    // What was begun with room goes through.
    await one.query('commit')
    for (const attempt of [write, () => other.query('begin; create table more (n int); commit')]) {
      const error = await attempt().catch(plainError)
      expect(error).toMatchObject({ message: expect.stringContaining('The disk is full') })
      await other.query('rollback')
    }
    expect(await count()).toBe(2)
    hasRoom = true
    await write()
    expect(await count()).toBe(3)
    await Promise.all([one.end(), other.end()])
  })
})
