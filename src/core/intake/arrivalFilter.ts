import * as z from 'zod'

/** What arrives, by kind. */
export const kindsOfArrival = ['click', 'event', 'hop', 'postback', 'order', 'report'] as const

/** What an arrival can have wrong with it. */
export const arrivalProblems = [
  'not_counted',
  'no_ad',
  'no_click',
  'no_evidence',
  'unread',
  'rejected',
] as const
export type ArrivalProblem = (typeof arrivalProblems)[number]

const orNone = <Schema extends z.ZodType>(schema: Schema) => schema.nullable().catch(null).default(null)

/** Which arrivals are looked at, as an address says it; what it does not say, or says wrongly, is not filtered. */
export const arrivalFilterSchema = z.object({
  kind: orNone(z.enum(kindsOfArrival)),
  network: orNone(z.string().min(1)),
  /** an ID, of the network */
  campaign: orNone(z.string().min(1)),
  result: orNone(z.string().min(1)),
  problem: orNone(z.enum([...arrivalProblems, 'any'])),
})
export type ArrivalFilter = z.infer<typeof arrivalFilterSchema>
