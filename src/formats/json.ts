import * as z from 'zod'
import { isTooDeep } from '@/core/shared/jsonDepth'

/** JSON from outside that does not hold what it should: says where and what. */
export class InvalidJson extends Error {}

/** @throws InvalidJson with the place and the reason of every fault */
export function parseJson<Schema extends z.ZodType>(
  text: string,
  schema: Schema,
  name: string,
): z.infer<Schema> {
  let value: unknown
  if (isTooDeep(text)) throw new InvalidJson(`${name} is nested deeper than 60 levels.`)
  try {
    value = JSON.parse(text.replace(/^\uFEFF/, ''))
  } catch (error) {
    throw new InvalidJson(`${name} is not JSON: ${error instanceof Error ? error.message : ''}`)
  }
  const read = schema.safeParse(value)
  if (!read.success) throw new InvalidJson(`${name} cannot be used:\n${z.prettifyError(read.error)}`)
  return read.data
}
