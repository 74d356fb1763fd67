import * as z from 'zod'

/** What somebody may remove of what was taken in. */
export const removableKinds = ['orders', 'reports', 'clicks', 'events', 'aside'] as const
export type Removable = (typeof removableKinds)[number]
/** Those of which each record is a network's. */
export const ofNetworks: readonly Removable[] = ['reports', 'clicks']

const day = z.iso.date().optional()
/** What is to be removed: some kinds, of all days and networks where none is said. */
export const removalSchema = z.object({
  kinds: z.array(z.enum(removableKinds)).min(1),
  /** `YYYY-MM-DD`, both included */
  from: day,
  to: day,
  network: z.string().max(200).optional(),
})
export type Removal = z.infer<typeof removalSchema>
