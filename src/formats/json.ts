import * as z from 'zod'

/** JSON from outside that does not hold what it should: says where and what. */
export class InvalidJson extends Error {}

/** @throws InvalidJson with the place and the reason of every fault */
export function parseJson<Schema extends z.ZodType>(
  text: string,
  schema: Schema,
  name: string,
): z.infer<Schema> {
  let value: unknown
  try {
    value = JSON.parse(text.replace(/^\uFEFF/, ''))
  } catch (error) {
    throw new InvalidJson(`${name} is not JSON: ${error instanceof Error ? error.message : ''}`)
  }
  const read = schema.safeParse(value)
  if (!read.success) throw new InvalidJson(`${name} cannot be used:\n${z.prettifyError(read.error)}`)
  return read.data
}
