import { and, eq, sql } from 'drizzle-orm'
import type { PostbackArrival } from '@/core/intake/arrival'
import { LONGEST_ID } from '@/core/intake/fields'
import { occurredAt } from '@/core/intake/occurred'
import { type Partner, type PartnerSale, readPostback } from '@/core/intake/postback'
import { pathKey } from '@/core/shared/path'
import { cleanText } from '@/core/shared/text'
import type { Executor } from '@/data/connect'
import { keepAside, listPartners, type SetAside } from '@/data/intake'
import { orders, postbacks } from '@/data/schema'
import { insertRows, oneOf, upsertRows } from '@/data/store'
import { cleanedFacts } from './cleanedFacts'

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
      ...cleanedFacts(arrival),
    },
  }))
  if (aside.length > 0) await keepAside(database, workspace, aside)
  const told = read.flatMap(({ arrival, at, partner, sale }) =>
    partner && sale ? [{ arrival, at, partner, sale }] : [],
  )
  const firstSent = await firstTimes(
    database,
    workspace,
    told.map(t => t.sale.deal),
  )
  await storeSales(
    database,
    workspace,
    told.map(({ arrival, at, partner, sale }) => ({
      partner,
      sale,
      at: firstSent.get(pathKey(partner.id, sale.deal, arrival.query)) ?? at,
    })),
  )
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
  return new Map(rows.map(r => [pathKey(r.partner, r.deal ?? '', r.query ?? ''), new Date(r.first)]))
}

interface Told {
  partner: Partner
  sale: PartnerSale
  at: Date
}

/** Lists in which each deal stands once, so that one statement takes each; in the order of time. */
function inRounds(told: readonly Told[]): Told[][] {
  const rounds: Told[][] = []
  const of = new Map<string, number>()
  for (const one of [...told].sort((a, b) => a.at.getTime() - b.at.getTime())) {
    const key = pathKey(one.partner.id, one.sale.deal)
    const round = of.get(key) ?? 0
    of.set(key, round + 1)
    ;(rounds[round] ??= []).push(one)
  }
  return rounds
}

/** The columns of a sale that an order is made of. */
interface SaleRow extends Record<string, unknown> {
  partner: string
  deal: string
  click_id: string | null
  amount: string | null
  currency: string
  status: string
  first_at: string
  changed_at: string
}

/**
 * Sales by their latest postbacks; what an earlier one told and this one does not, stays. Which is the
 * later is decided where the row is held, so that two at once do not lose either.
 */
async function storeSales(database: Executor, workspace: string, told: readonly Told[]): Promise<void> {
  const latest = new Map<string, SaleRow>()
  for (const round of inRounds(told)) {
    const rows = round.map(({ partner, sale, at }) => ({
      partner: partner.id,
      deal: sale.deal,
      click_id: sale.click,
      amount: sale.amount,
      currency: sale.currency,
      status: sale.status,
      sub_ids: sale.subIds,
      at: at.toISOString(),
    }))
    const newer = sql`excluded.changed_at >= held.changed_at`
    const kept = await database.execute<SaleRow>(sql`
      insert into sales as held
        (workspace, partner, deal, click_id, amount, currency, status, sub_ids, first_at, changed_at)
      select ${workspace}, partner, deal, click_id, amount, currency, status, sub_ids, at, at
      from json_to_recordset(${JSON.stringify(rows)}::json) as r(partner text, deal text, click_id text,
        amount bigint, currency text, status text, sub_ids jsonb, at timestamptz)
      on conflict (workspace, partner, deal) do update set
        click_id = case when ${newer} then coalesce(excluded.click_id, held.click_id)
          else coalesce(held.click_id, excluded.click_id) end,
        amount = case when ${newer} then coalesce(excluded.amount, held.amount)
          else coalesce(held.amount, excluded.amount) end,
        -- The currency goes with its amount.
        currency = case when excluded.amount is not null and (${newer} or held.amount is null)
          then excluded.currency else held.currency end,
        status = case when ${newer} then excluded.status else held.status end,
        sub_ids = case when ${newer} then held.sub_ids || excluded.sub_ids
          else excluded.sub_ids || held.sub_ids end,
        first_at = least(held.first_at, excluded.first_at),
        changed_at = greatest(held.changed_at, excluded.changed_at)
      returning partner, deal, click_id, amount, currency, status, first_at, changed_at`)
    for (const row of kept.rows) latest.set(pathKey(row.partner, row.deal), row)
  }
  const resultOf = new Map(told.map(({ partner }) => [partner.id, partner.result]))
  await upsertRows(
    database,
    orders,
    // A sale that nobody approved yet is no order.
    [...latest.values()]
      .filter(sale => sale.status !== 'pending')
      .map(sale => ({
        workspace,
        order_id: `${sale.partner}:${sale.deal}`,
        ordered_at: new Date(sale.first_at).toISOString(),
        status: sale.status === 'approved' ? 'paid' : 'cancelled',
        result: resultOf.get(sale.partner),
        // It never went through the site: without a click that is known it is nobody's unseen order.
        channel: 'partner',
        currency: sale.currency,
        total: Number(sale.amount ?? 0),
        tax: 0,
        shipping: 0,
        refunded: 0,
        click_id: sale.click_id,
        changed_at: new Date(sale.changed_at).toISOString(),
      })),
  )
}
