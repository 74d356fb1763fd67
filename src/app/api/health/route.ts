import { sql } from 'drizzle-orm'
import { sharedDatabase } from '@/data/connect'
import { hasRoom } from '@/data/room'
import { dataFolder } from '@/formats/dataFolder'
import { collectorState, within } from '@/server/health'
import { leftOut } from '@/server/leftOut'
import { listFailing } from '@/server/standing'
import packageFile from '../../../../package.json'
import { answering } from '../answering'

export const dynamic = 'force-dynamic'

/** How the application is: `ok` only when everything goes on, and what is left out because nobody can read it. */
export const GET = answering(async () => {
  const connection = sharedDatabase()
  const answered = await within(connection.execute(sql`select 1`)).catch(() => null)
  const database = answered ? 'ok' : 'unreachable'
  const collector = await collectorState(answered ? connection : null)
  const failing = listFailing().map(({ work, since }) => ({ work, since: new Date(since).toISOString() }))
  const disk = hasRoom(dataFolder())
  const fine = database === 'ok' && disk && failing.length === 0 && collector.status === 'ok'
  const body = {
    status: fine ? 'ok' : 'degraded',
    version: packageFile.version,
    database,
    disk: disk ? 'ok' : 'full',
    collector,
    failing,
    left_out: leftOut(),
  }
  return Response.json(body, { status: database === 'ok' ? 200 : 503 })
})
