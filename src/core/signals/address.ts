import * as z from 'zod'
import { comparisons } from './addressMatcher'

const LONGEST_TEXT = 500
const conditionSchema = z.object({ by: z.enum(comparisons), text: z.string().min(1).max(LONGEST_TEXT) })

/** `AddressConditions` as they come from outside. */
export const addressConditionsSchema = z.object({
  any: z.array(conditionSchema).max(50).default([]),
  none: z.array(conditionSchema).max(50).default([]),
})
