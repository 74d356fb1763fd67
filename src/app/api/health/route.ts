import { sql } from 'drizzle-orm'
import { sharedDatabase } from '@/data/connect'
import { collectorState } from '@/server/health'
import packageFile from '../../../../package.json'

export const dynamic = 'force-dynamic'

export async function GET(): Promise<Response> {
  const database = await sharedDatabase()
    .execute(sql`select 1`)
    .then(
      () => 'ok',
      () => 'unreachable',
    )
  const body = {
    status: database === 'ok' ? 'ok' : 'degraded',
    version: packageFile.version,
    database,
    collector: await collectorState(sharedDatabase()),
  }
  return Response.json(body, { status: database === 'ok' ? 200 : 503 })
}
