import { sql } from 'drizzle-orm'
import { type Day, parseDay } from '@/core/shared/days'
import type { Executor } from './connect'

/** Each currency and day of which amounts are held. */
export async function heldCurrencies(
  database: Executor,
  workspace: string,
  zone: string,
): Promise<{ currency: string; day: Day }[]> {
  const found = await database.execute<{ currency: string; day: string }>(sql`
    select currency, day::text from delivery where workspace = ${workspace}
    union select currency, (ordered_at at time zone ${zone})::date::text from orders where workspace = ${workspace}
    union select currency, day::text from claim_sums where workspace = ${workspace} and currency is not null
    union select currency, day::text from claim_rows where workspace = ${workspace} and currency is not null
    order by 2`)
  return found.rows.map(({ currency, day }) => ({ currency, day: parseDay(day) ?? 0 }))
}
