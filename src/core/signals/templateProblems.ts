import { unsafePlaces } from './codePlaces'
import type { Outgoing } from './outgoing'
import type { TagCode } from './tagCode'

/** What cannot be kept of a network's templates, each by the path of its field. */
export interface FieldProblem {
  path: string
  message: string
}

/** Finds in a network's templates what a value could break out of; asked whenever one is written. */
export function templateProblems({
  tag,
  outgoing,
}: {
  tag?: TagCode | undefined
  outgoing?: Outgoing | undefined
}): FieldProblem[] {
  const code = (['base', 'event'] as const).flatMap(field =>
    unsafePlaces(tag?.[field] ?? '').map(place => ({
      path: `tag.${field}`,
      message: `{${place}} stands in a comment, a pattern, a handler, a style or a name, where no value is safe: put it between quotation marks in the script, or into an attribute`,
    })),
  )
  const headers = (outgoing?.headers ?? []).flatMap(({ name, value }, i) =>
    /[\r\n\0]/.test(value)
      ? [
          {
            path: `outgoing.headers.${i}.value`,
            message: `the header ${name} holds a line break: write it in one line`,
          },
        ]
      : [],
  )
  return [...code, ...headers]
}
