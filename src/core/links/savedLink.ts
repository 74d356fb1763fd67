import * as z from 'zod'
import { handCostSchema } from './handCost'

/** The network of placements that are no network's: a newsletter, a banner for a fixed price. */
export const PLACEMENTS = 'placements'
/** The segment of delivery that nobody reports: what a placement cost, as it was entered. */
export const BY_HAND = 'by hand'

/** A code as it stands in an address of the tracking domain. */
export const linkCodeSchema = z
  .string()
  .regex(/^[A-Za-z0-9_-]{1,64}$/, 'a code is letters, digits, - and _, at most 64 of them')

const named = z.object({ id: z.string().min(1).max(200), name: z.string().trim().min(1, 'name it').max(200) })

/** A link that somebody keeps: what it is for, where it leads, and what it cost where nobody reports that. */
export const savedLinkSchema = z.object({
  title: z.string().trim().min(1, 'say what the link is').max(200),
  note: z.string().max(4000).default(''),
  /** for whom it was made: a client, a colleague, a partner */
  made_for: z.string().trim().max(200).default(''),
  archived: z.boolean().default(false),
  network: z.string().min(1),
  campaign: named,
  ad_set: named,
  ad: named,
  destination: z.url({ protocol: /^https?$/, error: 'write the whole address, with https://' }).max(2048),
  /** added to every click on the code, in order; an ad's link carries its own instead */
  parameters: z.record(z.string().min(1).max(200), z.string().max(2000)).default({}),
  /** codes that it had before: they lead on as long as somebody may have them */
  former_codes: z.array(z.string()).default([]),
  cost: handCostSchema.nullable().default(null),
  created_at: z.iso.datetime(),
})
export type SavedLink = z.infer<typeof savedLinkSchema>

/** Whether it is a network's ad, whose plan tags its clicks, or a placement of our own. */
export const isPlacement = ({ network }: Pick<SavedLink, 'network'>): boolean => network === PLACEMENTS
