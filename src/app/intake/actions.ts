'use server'
import { refresh } from 'next/cache'
import * as z from 'zod'
import { type Partner, partnerSchema, saleStatuses } from '@/core/intake/postback'
import { offerSchema } from '@/core/intake/routing'
import { decideApart } from '@/data/apart'
import { sharedDatabase } from '@/data/connect'
import { listRoutes, type Route } from '@/data/workspace'
import { undoImport } from '@/server/import/undo'
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
export async function keepFallbackHere(address: string): Promise<string | null> {
  const problem = await keepFallback(sharedDatabase(), await workspaceHere(), z.string().parse(address))
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

/** Adds a partner or changes its sheet. Gives what is wrong, or null when it is done. */
export async function keepPartnerHere({
  secret,
  ...sheet
}: Partner & { secret: boolean }): Promise<string | null> {
  const read = partnerSchema.safeParse(sheet)
  if (!read.success) return z.prettifyError(read.error)
  const { id } = await workspaceHere()
  const problem = await keepPartner(sharedDatabase(), id, read.data, secret ? 'secret' : 'open')
  if (problem === null) refresh()
  return problem
}

const apartSchema = z.object({
  kind: z.enum(['event', 'click']),
  of: z.string(),
  reason: z.string(),
  day: z.iso.date(),
})

/** Decides on what is kept out of the figures. Says what became of it. */
export async function decideApartHere(group: z.infer<typeof apartSchema>, counts: boolean): Promise<string> {
  const { id } = await workspaceHere()
  const given = apartSchema.parse(group)
  const decided = await sharedDatabase().transaction(transaction =>
    decideApart(transaction, id, given, z.boolean().parse(counts)),
  )
  refresh()
  return `${decided} ${counts ? 'counted' : 'left out'}.`
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

/** Adds or changes a route. Gives what is wrong, or null when it is done. */
export async function keepRouteHere(route: Omit<Route, 'workspace'>): Promise<string | null> {
  const { id } = await workspaceHere()
  const problem = await keepRoute(sharedDatabase(), { ...route, workspace: id })
  if (problem === null) refresh()
  return problem
}

/**
 * Shares out what comes to a code otherwise among its landing pages or offers. Gives what is wrong, or null.
 *
 * @param weights of each side, in the route's order; one of 0 gets nothing, and stays known
 */
export async function keepWeights(
  code: string,
  by: 'landings' | 'offers',
  weights: number[],
): Promise<string | null> {
  const { id } = await workspaceHere()
  const route = (await listRoutes(sharedDatabase())).find(one => one.workspace === id && one.code === code)
  const read = z.array(z.number().min(0).max(1000)).safeParse(weights)
  if (
    !route ||
    !read.success ||
    read.data.length !== route[by].length ||
    read.data.every(weight => weight === 0)
  )
    return 'This route has changed meanwhile: load the page anew.'
  const shared = route[by].map((branch, i) => ({ ...branch, weight: read.data[i]! }))
  const problem = await keepRoute(sharedDatabase(), { ...route, [by]: shared })
  if (problem === null) refresh()
  return problem
}

/** Undoes an import. Gives why it cannot be, or null when it is done. */
export async function takeImportBack(batch: string): Promise<string | null> {
  const refused = await undoImport(
    sharedDatabase(),
    await workspaceHere(),
    z.string().min(1).max(60).parse(batch),
  )
  refresh()
  return refused
}
