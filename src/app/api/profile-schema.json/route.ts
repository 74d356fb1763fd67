import * as z from 'zod'
import { profileSchema } from '@/core/links/profile'

/** The JSON Schema (2020-12) of a network profile, as it is written and imported. */
export const GET = (): Response =>
  Response.json(z.toJSONSchema(profileSchema, { io: 'input', unrepresentable: 'any' }), {
    headers: { 'content-type': 'application/schema+json' },
  })
