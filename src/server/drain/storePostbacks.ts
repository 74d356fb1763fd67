import { and, eq } from 'drizzle-orm'
import type { PostbackArrival } from '@/core/intake/arrival'
import { occurredAt } from '@/core/intake/occurred'
import { type Partner, type PartnerSale, readPostback } from '@/core/intake/postback'
import type { Executor } from '@/data/connect'
import { keepAside, listPartners, type SetAside } from '@/data/intake'
import { orders, postbacks, sales } from '@/data/schema'
import { insertRows, upsertRows } from '@/data/store'

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
        facts: { partner: arrival.partner, ...(result ? { parameter: result.at, value: result.value } : {}) },
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
    attributes: { from: arrival.from, agent: arrival.agent },
  }))
  if (aside.length > 0) await keepAside(database, workspace, aside)
  for (const { at, partner, sale } of read)
    if (partner && sale) await storeSale(database, workspace, partner, sale, at)
  return aside.length === 0
}

/** A sale's row by its latest postback; what an earlier one told and this one does not, stays. */
async function storeSale(
  database: Executor,
  workspace: string,
  partner: Partner,
  sale: PartnerSale,
  at: Date,
) {
  const [before] = await database
    .select()
    .from(sales)
    .where(and(eq(sales.workspace, workspace), eq(sales.partner, partner.id), eq(sales.deal, sale.deal)))
  const older = before !== undefined && before.changed_at > at
  const merged = {
    click_id: sale.click ?? before?.click_id ?? null,
    amount: sale.amount ?? before?.amount ?? null,
    currency: sale.amount === null && before ? before.currency : sale.currency,
    status: older ? before.status : sale.status,
    sub_ids: { ...before?.sub_ids, ...sale.subIds },
    first_at: before && before.first_at < at ? before.first_at : at,
    changed_at: older ? before.changed_at : at,
  }
  if (older)
    Object.assign(merged, { amount: before.amount ?? sale.amount, click_id: before.click_id ?? sale.click })
  await upsertRows(database, sales, [
    {
      workspace,
      partner: partner.id,
      deal: sale.deal,
      ...merged,
      first_at: merged.first_at.toISOString(),
      changed_at: merged.changed_at.toISOString(),
    },
  ])
  // A sale that nobody approved yet is no order.
  if (merged.status === 'pending') return
  await upsertRows(database, orders, [
    {
      workspace,
      order_id: `${partner.id}:${sale.deal}`,
      ordered_at: merged.first_at.toISOString(),
      status: merged.status === 'approved' ? 'paid' : 'cancelled',
      result: partner.result,
      currency: merged.currency,
      total: merged.amount ?? 0,
      tax: 0,
      shipping: 0,
      refunded: 0,
      click_id: merged.click_id,
      changed_at: merged.changed_at.toISOString(),
    },
  ])
}
