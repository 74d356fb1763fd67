import * as z from 'zod'
import { LONGEST_ID } from './fields'
import { LONGEST_ORDER_MESSAGE } from './orderMessage'

// What the collector writes into its journal, one JSON line each. An ID makes a record the same however
// often it is read.

/** The longest text of a record, in UTF-16 units; the collector takes no longer address than this. */
export const LONGEST_TEXT = 65_536
const short = z.string().max(LONGEST_ID)
const long = z.string().max(LONGEST_TEXT)

const envelope = {
  id: short.min(1),
  /** epoch ms at which the collector received it */
  at: z.number(),
  workspace: short,
  /** the sender's network: the first 24 bits of an IPv4 address, the first 48 of an IPv6 one */
  from: short,
  agent: z.string().max(512),
  /** fields that held what no database takes, and what stands in its place */
  cleaned: z.array(z.string()).optional(),
}

/** An ad click, by redirect or as the tag on the landing page reports it. */
const clickArrival = z.object({
  kind: z.literal('click'),
  ...envelope,
  network: short,
  code: short,
  /** the query as it arrived, still encoded, without `?` */
  query: long,
  /** where the click was sent, or where it landed */
  landing: long,
  visitor: short.nullable(),
  /** IANA zone of the browser, where a script could ask it */
  zone: short.nullish(),
  /** the live test that it belongs to */
  test: short.nullish(),
  /** set where a page told of it, and no redirect of ours */
  by: z.literal('page').optional(),
})
export type ClickArrival = z.infer<typeof clickArrival>

/** A click that went on from a landing page to an offer. */
const hopArrival = z.object({
  kind: z.literal('hop'),
  ...envelope,
  code: short,
  click: short.nullable(),
  offer: long,
  visitor: short.nullable(),
})

/** What the tag on a page says of an event; texts that are too long are cut by the tag. */
export const beaconSchema = z.object({
  site: short,
  id: z.string().regex(/^[\w.-]{8,80}$/),
  name: z.string().regex(/^[\w.:-]{1,60}$/),
  page: z.string().max(2048).nullish(),
  referrer: z.string().max(2048).nullish(),
  visitor: short.nullish(),
  click: short.nullish(),
  value: z
    .string()
    .regex(/^\d{1,12}(\.\d{1,4})?$/)
    .nullish(),
  currency: z
    .string()
    .regex(/^[A-Z]{3}$/)
    .nullish(),
  transaction: short.nullish(),
  zone: short.nullish(),
  /** the rule by which the tag tells a result; an event without one is the page's own */
  rule: short.nullish(),
  /** the live test that it belongs to, and the opening of a page in it */
  test: short.nullish(),
  view: short.nullish(),
  /** set where the page was reached by an ad that may not redirect: the code whose click this is */
  code: short.nullish(),
})
export type Beacon = z.infer<typeof beaconSchema>

const eventArrival = beaconSchema.omit({ site: true, code: true }).extend({
  kind: z.literal('event'),
  ...envelope,
  /** the site that its browser says it stands on, by the `Origin` of the request */
  origin: short.optional(),
})

/** What the tag sees of a page in a live test. */
export const observationSchema = z.object({
  test: short,
  view: z.string().regex(/^[\w.-]{8,80}$/),
  page: z.string().max(2048),
  title: z.string().max(300),
  /** epoch ms at which the page was opened, and how long it was looked at by then */
  opened: z.number(),
  after_ms: z.number(),
  /** markup of the page's scripts and tracking images, those left out that our tag placed */
  code: z.array(z.object({ in: z.enum(['head', 'body']), html: z.string().max(20_000) })).max(200),
  requests: z
    .array(z.object({ address: z.string().max(2048), at: z.number(), failed: z.boolean() }))
    .max(500),
  /** networks that our tag called, or could not call */
  called: z
    .array(
      z.object({
        network: short,
        result: short,
        event_id: short,
        how: z.enum(['called', 'held_back', 'not_loaded', 'not_run']),
      }),
    )
    .max(200),
  errors: z.array(z.object({ said: z.string().max(500), line: z.number().nullable() })).max(50),
})
export type Observation = z.infer<typeof observationSchema>
const observationArrival = z.object({ kind: z.literal('observation'), ...envelope, seen: observationSchema })

/** A partner's word of a sale, as it came. */
const postbackArrival = z.object({
  kind: z.literal('postback'),
  ...envelope,
  partner: short,
  /** without the partner's secret */
  query: long,
})
export type PostbackArrival = z.infer<typeof postbackArrival>

/** The shop's word of an order, whose signature was good: one message of the Standard Webhooks specification. */
const orderArrival = z.object({
  kind: z.literal('order'),
  ...envelope,
  /** the body as it came */
  message: z.string().max(LONGEST_ORDER_MESSAGE),
})
export type OrderArrival = z.infer<typeof orderArrival>

export const arrivalSchema = z.discriminatedUnion('kind', [
  clickArrival,
  hopArrival,
  eventArrival,
  postbackArrival,
  orderArrival,
  observationArrival,
])
export type Arrival = z.infer<typeof arrivalSchema>
export type ArrivalOf<Kind extends Arrival['kind']> = Extract<Arrival, { kind: Kind }>
