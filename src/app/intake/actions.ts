'use server'
import { refresh } from 'next/cache'
import * as z from 'zod'
import { partnerSchema, postbackFields, saleStatuses } from '@/core/intake/postback'
import { offerSchema, routeSchema } from '@/core/intake/routing'
import { sharedDatabase } from '@/data/connect'
import { replaceOrderSecret } from '@/server/orderWebhook'
import { keepPartner, sendTestPostback } from '@/server/partners'
import { addOffer, keepFallback, keepRoute, publishRoutes } from '@/server/routes'
import { mendGroup, nameSource } from '@/server/setAside'
import { workspaceHere } from '../frame'

const mendSchema = z.discriminatedUnion('do', [
  z.object({ do: z.literal('again') }),
  z.object({ do: z.literal('drop') }),
  z.object({ do: z.literal('status'), means: z.enum(saleStatuses) }),
  z.object({ do: z.literal('parameter'), parameter: z.string().min(1).max(60) }),
  z.object({ do: z.literal('value'), value: z.string().max(4096) }),
  z.object({ do: z.literal('rate'), date: z.string(), rate: z.string() }),
])

const alikeSchema = z.object({
  kind: z.string(),
  reason: z.string(),
  facts: z.record(z.string(), z.string()),
})

/** Mends what was set aside for one reason. Says what became of it. */
export async function mend(
  group: z.infer<typeof alikeSchema>,
  how: z.infer<typeof mendSchema>,
  only?: string,
): Promise<string> {
  try {
    const alike = alikeSchema.parse(group)
    const settled = await mendGroup(
      sharedDatabase(),
      await workspaceHere(),
      alike,
      mendSchema.parse(how),
      z.string().optional().parse(only),
    )
    refresh()
    if (settled === 0) return 'Nothing could be taken in yet: the reason still holds.'
    return how.do === 'drop' ? `${settled} dropped.` : `${settled} taken in.`
  } catch (error) {
    return error instanceof Error ? error.message : 'It could not be done.'
  }
}

/** Gives out a new secret for the shop's signed orders. */
export async function replaceSecret(): Promise<void> {
  const { id } = await workspaceHere()
  await replaceOrderSecret(sharedDatabase(), id, Date.now())
  await publishRoutes(sharedDatabase(), id)
  refresh()
}

/** Keeps where clicks on unknown or paused codes go. Gives what is wrong, or null when it is done. */
export async function saveFallback(form: FormData): Promise<string | null> {
  const problem = await keepFallback(
    sharedDatabase(),
    await workspaceHere(),
    String(form.get('fallback') ?? '').trim(),
  )
  if (problem === null) refresh()
  return problem
}

/** Adds a partner's offer to a route. Says what became of it. */
export async function offerOnRoute(code: string, address: string, parameter: string): Promise<string> {
  const { id } = await workspaceHere()
  const offer = offerSchema.safeParse({ address, click_parameter: parameter })
  if (!offer.success) return 'Write the whole address of the offer, with https://.'
  const problem = await addOffer(sharedDatabase(), id, code, offer.data)
  return problem ?? `Route ${code} now leads on to it, with our click ID as ${parameter}.`
}

/** Says of which network a source on orders is; empty for one that is no ad. */
export async function placeSource(source: string, network: string): Promise<void> {
  await nameSource(sharedDatabase(), await workspaceHere(), source, network)
  refresh()
}

/** Adds or changes a partner by its form. Gives what is wrong, or null when it is done. */
export async function savePartnerForm(form: FormData): Promise<string | null> {
  const text = (name: string) => String(form.get(name) ?? '').trim()
  const byField = (prefix: string) =>
    Object.fromEntries(
      postbackFields.flatMap(f => (text(`${prefix}_${f}`) ? [[f, text(`${prefix}_${f}`)]] : [])),
    )
  const read = partnerSchema.safeParse({
    id: text('name')
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-|-$/g, ''),
    name: text('name'),
    result: text('result') || undefined,
    currency: text('currency').toUpperCase(),
    click_parameter: text('click_parameter'),
    parameters: byField('parameter'),
    macros: byField('macro'),
    statuses: Object.fromEntries(
      saleStatuses.map(s => [
        s,
        text(`status_${s}`)
          .toLowerCase()
          .split(/[\s,]+/)
          .filter(Boolean),
      ]),
    ),
  })
  if (!read.success) return z.prettifyError(read.error)
  if (!read.data.parameters.deal)
    return 'Name the parameter of the deal ID: without it a sale told twice would count twice.'
  const { id } = await workspaceHere()
  await keepPartner(sharedDatabase(), id, read.data, form.get('secret') ? 'secret' : 'open')
  refresh()
  return null
}

/** Sends one postback to a partner's address, as the partner would. */
export async function testPartner(partner: string): Promise<string> {
  const { id } = await workspaceHere()
  try {
    return await sendTestPostback(sharedDatabase(), id, partner)
  } catch (error) {
    return error instanceof Error ? error.message : 'It could not be sent.'
  }
}

/** Adds or changes a route by its form. Gives what is wrong, or null when it is done. */
export async function saveRouteForm(form: FormData): Promise<string | null> {
  const all = (name: string) => form.getAll(name).map(value => String(value).trim())
  const [weights, offerWeights, parameters] = [
    all('landing_weight'),
    all('offer_weight'),
    all('offer_parameter'),
  ]
  const { id } = await workspaceHere()
  const read = routeSchema.safeParse({
    workspace: id,
    network: form.get('network'),
    landings: all('landing_address').flatMap((address, i) =>
      address ? [{ address, weight: Number(weights[i] ?? 1) }] : [],
    ),
    offers: all('offer_address').flatMap((address, i) =>
      address
        ? [{ address, weight: Number(offerWeights[i] ?? 1), click_parameter: parameters[i] ?? '' }]
        : [],
    ),
    paused: form.get('paused') !== null,
  })
  if (!read.success) return z.prettifyError(read.error)
  const problem = await keepRoute(sharedDatabase(), {
    ...read.data,
    code: String(form.get('code') ?? '').trim(),
  })
  if (problem === null) refresh()
  return problem
}
