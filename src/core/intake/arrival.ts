import * as z from 'zod'

// What the collector writes into its journal, one JSON line each. An ID makes a record the same however
// often it is read.

const envelope = {
  id: z.string().min(1).max(80),
  /** epoch ms at which the collector received it */
  at: z.number(),
  workspace: z.string(),
  /** the sender's network: the first 24 bits of an IPv4 address, the first 48 of an IPv6 one */
  from: z.string(),
  agent: z.string().max(512),
}

/** An ad click, by redirect or as the tag on the landing page reports it. */
const clickArrival = z.object({
  kind: z.literal('click'),
  ...envelope,
  network: z.string(),
  code: z.string(),
  /** the query as it arrived, still encoded, without `?` */
  query: z.string(),
  /** where the click was sent, or where it landed */
  landing: z.string(),
  visitor: z.string().nullable(),
  /** IANA zone of the browser, where a script could ask it */
  zone: z.string().nullish(),
})
export type ClickArrival = z.infer<typeof clickArrival>

/** A click that went on from a landing page to an offer. */
const hopArrival = z.object({
  kind: z.literal('hop'),
  ...envelope,
  code: z.string(),
  click: z.string().nullable(),
  offer: z.string(),
  visitor: z.string().nullable(),
})

const short = z.string().max(200)
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
  /** set where the page was reached by an ad that may not redirect: the code whose click this is */
  code: short.nullish(),
})
export type Beacon = z.infer<typeof beaconSchema>

const eventArrival = beaconSchema.omit({ site: true, code: true }).extend({
  kind: z.literal('event'),
  ...envelope,
})

/** A partner's word of a sale, as it came. */
const postbackArrival = z.object({
  kind: z.literal('postback'),
  ...envelope,
  partner: z.string(),
  query: z.string(),
})
export type PostbackArrival = z.infer<typeof postbackArrival>

export const arrivalSchema = z.discriminatedUnion('kind', [
  clickArrival,
  hopArrival,
  eventArrival,
  postbackArrival,
])
export type Arrival = z.infer<typeof arrivalSchema>
export type ArrivalOf<Kind extends Arrival['kind']> = Extract<Arrival, { kind: Kind }>
