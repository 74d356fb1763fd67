import { desc, eq, sql } from 'drizzle-orm'
import { type Partner, partnerSchema, postbackAddress, readPostback } from '@/core/intake/postback'
import type { Database } from '@/data/connect'
import { listPartners, savePartner } from '@/data/intake'
import { clicks, sales } from '@/data/schema'
import { mintCode, publishRoutes, trackingOrigin } from './routes'

export interface PartnerView {
  partner: Partner
  /** to paste at the partner, with its own macros */
  postback: string
  secret: boolean
  sales: { approved: number; pending: number; reversed: number; withoutClick: number }
}

export async function describePartners(database: Database, workspace: string): Promise<PartnerView[]> {
  const counts = await database
    .select({
      partner: sales.partner,
      status: sales.status,
      count: sql<number>`count(*)::int`,
      withoutClick: sql<number>`count(*) filter (where not exists (select 1 from ${clicks} c
        where c.workspace = ${workspace} and c.click_id = ${sql.raw('sales.click_id')}))::int`,
    })
    .from(sales)
    .where(eq(sales.workspace, workspace))
    .groupBy(sales.partner, sales.status)
  return (await listPartners(database, workspace)).map(({ code, partner, secret }) => {
    const own = counts.filter(c => c.partner === partner.id)
    const of = (status: string) => own.find(c => c.status === status)?.count ?? 0
    return {
      partner,
      postback: postbackAddress(
        `${trackingOrigin()}/p/${code}`,
        partner,
        secret?.kind === 'shared' ? [secret.parameter, secret.value] : null,
      ),
      secret: secret !== null,
      sales: {
        approved: of('approved'),
        pending: of('pending'),
        reversed: of('reversed'),
        withoutClick: own.reduce((sum, c) => sum + c.withoutClick, 0),
      },
    }
  })
}

/**
 * Adds a partner, or changes its sheet, and gives its address to the collector. One without a secret may stay as it
 * is, and none may become so.
 *
 * @returns what is wrong, or null when it is done
 */
export async function keepPartner(
  database: Database,
  workspace: string,
  partner: Partner,
  withSecret: 'secret' | 'open',
): Promise<string | null> {
  const known = (await listPartners(database, workspace)).find(p => p.id === partner.id)
  if (withSecret === 'open' && (!known || known.secret))
    return 'Without a secret anybody can report sales under this partner’s name. Leave the secret on.'
  await savePartner(database, workspace, {
    code: known?.code ?? mintCode(),
    partner: partnerSchema.parse(partner),
    secret:
      withSecret === 'secret'
        ? (known?.secret ?? { kind: 'shared', parameter: 'key', value: mintCode() })
        : null,
  })
  await publishRoutes(database, workspace)
  return null
}

/**
 * Sends one postback to the partner's address as the partner would: a reversed deal of nothing, with the
 * latest click's ID, so that no figure changes.
 *
 * @returns what the collector answered
 */
export async function sendTestPostback(database: Database, workspace: string, id: string): Promise<string> {
  const stored = (await listPartners(database, workspace)).find(p => p.id === id)
  if (!stored) throw new Error(`There is no partner ${id}.`)
  const { partner, code, secret } = stored
  const [latest] = await database
    .select({ id: clicks.click_id })
    .from(clicks)
    .where(eq(clicks.workspace, workspace))
    .orderBy(desc(clicks.day), desc(clicks.clicked_at))
    .limit(1)
  const values = {
    click: latest?.id ?? 'no-click-yet',
    deal: `test-${Date.now()}`,
    amount: '0',
    currency: partner.currency,
    status: partner.statuses.reversed?.[0] ?? 'reversed',
  }
  const query = new URLSearchParams()
  for (const [field, value] of Object.entries(values)) {
    const parameter = partner.parameters[field as keyof typeof values]
    if (parameter) query.set(parameter, value)
  }
  const read = readPostback(query.toString(), partner)
  if ('problem' in read) throw new Error(`The sheet lacks the parameter of the ${read.at}.`)
  if (secret?.kind === 'shared') query.set(secret.parameter, secret.value)
  const answer = await fetch(`${trackingOrigin()}/p/${code}?${query}`).catch(() => null)
  return answer
    ? `The collector answered ${answer.status}: ${await answer.text()}. It is in the feed as deal ${values.deal}, reversed.`
    : 'The collector does not answer. Is it running?'
}
