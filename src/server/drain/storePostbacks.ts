import { and, eq, sql } from 'drizzle-orm'
import type { AnyPgColumn } from 'drizzle-orm/pg-core'
import type { PostbackArrival } from '@/core/intake/arrival'
import { LONGEST_ID } from '@/core/intake/fields'
import { occurredAt } from '@/core/intake/occurred'
import { type Partner, type PartnerSale, readPostback } from '@/core/intake/postback'
import { cleanText } from '@/core/shared/text'
import type { Executor } from '@/data/connect'
import { keepAside, listPartners, type SetAside } from '@/data/intake'
import { orders, postbacks, sales } from '@/data/schema'
import { insertRows, oneOf, upsertRows } from '@/data/store'

/**
 * Stores partners' postbacks: each as it came, and the sale that it is about as the latest one has it.
 * The same deal again is the same sale. One that cannot be read is set aside with what is wrong.
 *
 * @returns whether all of them could be read
 */
export async function storePostbacks(
  database: Executor,
  workspace: string,
  arrivals: readonly PostbackArrival[],
): Promise<boolean> {
  const sheets = new Map((await listPartners(database, workspace)).map(p => [p.id, p.partner]))
  const aside: SetAside[] = []
  const read = arrivals.map(arrival => {
    const partner = sheets.get(arrival.partner)
    const result = partner ? readPostback(arrival.query, partner) : null
    const at = new Date(occurredAt(arrival.id, arrival.at))
    if (!result || 'problem' in result)
      aside.push({
        id: arrival.id,
        kind: 'postback',
        at,
        reason: result?.problem ?? 'unknown_partner',
        facts: {
          partner: arrival.partner,
          ...(result ? { parameter: result.at, value: cleanText(result.value, LONGEST_ID) } : {}),
        },
        raw: JSON.stringify(arrival),
      })
    const sale = result && 'sale' in result ? result.sale : null
    return { arrival, at, partner, sale }
  })
  await insertRows(database, postbacks, read, ({ arrival, at, sale }) => ({
    workspace,
    day: at.toISOString().slice(0, 10),
    postback_id: arrival.id,
    at: at.toISOString(),
    partner: arrival.partner,
    query: arrival.query,
    deal: sale?.deal ?? null,
    click_id: sale?.click ?? null,
    status: sale?.status ?? null,
    attributes: {
      from: arrival.from,
      agent: arrival.agent,
      ...(arrival.cleaned?.length ? { cleaned: arrival.cleaned.join(', ') } : {}),
    },
  }))
  if (aside.length > 0) await keepAside(database, workspace, aside)
  const firstSent = await firstTimes(
    database,
    workspace,
    read.flatMap(r => (r.sale ? [r.sale.deal] : [])),
  )
  for (const { arrival, at, partner, sale } of read)
    if (partner && sale) {
      const first = firstSent.get([partner.id, sale.deal, arrival.query].join('\u001f'))
      await storeSale(database, workspace, partner, sale, first ?? at)
    }
  return aside.length === 0
}

/**
 * When each postback of some deals came for the first time, word for word. One that is sent once more, by
 * the partner or by whoever saw it, tells nothing newer than it did then.
 */
async function firstTimes(database: Executor, workspace: string, deals: readonly string[]) {
  if (deals.length === 0) return new Map<string, Date>()
  const rows = await database
    .select({
      partner: postbacks.partner,
      deal: postbacks.deal,
      query: postbacks.query,
      first: sql<string>`min(${postbacks.at})`,
    })
    .from(postbacks)
    .where(and(eq(postbacks.workspace, workspace), oneOf(postbacks.deal, deals)))
    .groupBy(postbacks.partner, postbacks.deal, postbacks.query)
  return new Map(rows.map(r => [[r.partner, r.deal, r.query].join('\u001f'), new Date(r.first)]))
}

/**
 * A sale by its latest postback; what an earlier one told and this one does not, stays. Which is the later
 * is decided where the row is held, so that two at once do not lose either.
 */
async function storeSale(
  database: Executor,
  workspace: string,
  partner: Partner,
  { deal, click, amount, currency, status, subIds }: PartnerSale,
  at: Date,
) {
  const newer = sql`excluded.changed_at >= ${sales.changed_at}`
  const latest = (column: AnyPgColumn) => {
    const own = sql.raw(`excluded."${column.name}"`)
    return sql`case when ${newer} then coalesce(${own}, ${column}) else coalesce(${column}, ${own}) end`
  }
  const [sale] = await database
    .insert(sales)
    .values({
      workspace,
      partner: partner.id,
      deal,
      click_id: click,
      amount,
      currency,
      status,
      sub_ids: subIds,
      first_at: at,
      changed_at: at,
    })
    .onConflictDoUpdate({
      target: [sales.workspace, sales.partner, sales.deal],
      set: {
        click_id: latest(sales.click_id),
        amount: latest(sales.amount),
        // The currency goes with its amount.
        currency: sql`case when excluded.amount is not null and (${newer} or ${sales.amount} is null) then excluded.currency else ${sales.currency} end`,
        status: sql`case when ${newer} then excluded.status else ${sales.status} end`,
        sub_ids: sql`case when ${newer} then ${sales.sub_ids} || excluded.sub_ids else excluded.sub_ids || ${sales.sub_ids} end`,
        first_at: sql`least(${sales.first_at}, excluded.first_at)`,
        changed_at: sql`greatest(${sales.changed_at}, excluded.changed_at)`,
      },
    })
    .returning()
  // A sale that nobody approved yet is no order.
  if (!sale || sale.status === 'pending') return
  await upsertRows(database, orders, [
    {
      workspace,
      order_id: `${partner.id}:${deal}`,
      ordered_at: sale.first_at.toISOString(),
      status: sale.status === 'approved' ? 'paid' : 'cancelled',
      result: partner.result,
      currency: sale.currency,
      total: sale.amount ?? 0,
      tax: 0,
      shipping: 0,
      refunded: 0,
      click_id: sale.click_id,
      changed_at: sale.changed_at.toISOString(),
    },
  ])
}
