import * as z from 'zod'
import type { PlannedParameter, tagPlanSchema } from './plan'
import type { NetworkProfile } from './profile'
import type { Segment } from './template'

const named = z.looseObject({ id: z.string().optional(), name: z.string().optional() })
export const sampleSchema = z
  .looseObject({ campaign: named, ad_set: named, ad: named })
  .partial()
  .catchall(z.unknown())
export type Sample = z.infer<typeof sampleSchema>

export interface LinkInput {
  profile: NetworkProfile
  destination: string
  plan: z.infer<typeof tagPlanSchema>
  subIds?: readonly string[]
  sample?: Sample
  /** the code of the tracking domain that the address stands for, where it does not pass that domain */
  code?: string | undefined
  /** hosts a link may lead to; empty means any */
  hosts?: readonly string[]
  /** the profiles whose dialects count as foreign here */
  otherProfiles?: readonly NetworkProfile[]
}

export interface LinkParameter extends PlannedParameter {
  segments: Segment[]
  /** as it stands in the address */
  written: string
  /** with sample values, decoded */
  resolved: string
}
