/** What became of one parameter between two hops of a click. */
export type Fate = 'kept' | 'lost' | 'doubled' | 'encoded_again' | 'decoded' | 'changed' | 'added'

export interface ParameterFate {
  key: string
  fate: Fate
  /** the values before and after, as they are meant */
  before: string | null
  after: string | null
}

/** A text with its percent escapes read; as it stands where they are no escapes. */
export function decoded(text: string): string {
  try {
    return decodeURIComponent(text)
  } catch {
    return text
  }
}

/** The hosts that landing pages are on, each once. */
export const hostsOf = (pages: readonly string[]): string[] => [
  ...new Set(pages.flatMap(page => (URL.canParse(page) ? [new URL(page).hostname] : []))),
]

/**
 * Which parameters of one address survived to the next, in order: those of the first, then new ones.
 *
 * @example
 * compareHops('https://a.example/?x=1%20', 'https://b.example/?x=1%2520&y=2')
 * // [{ key: 'x', fate: 'encoded_again', … }, { key: 'y', fate: 'added', … }]
 */
export function compareHops(from: string, to: string): ParameterFate[] {
  const [before, after] = [new URL(from).searchParams, new URL(to).searchParams]
  const keys = new Set([...before.keys(), ...after.keys()])
  return [...keys].map(key => {
    const [had, has] = [before.getAll(key), after.getAll(key)]
    const [was, is] = [had[0] ?? null, has[0] ?? null]
    return { key, before: was, after: is, fate: fateOf(had, has) }
  })
}

function fateOf(had: readonly string[], has: readonly string[]): Fate {
  const [was, is] = [had[0], has[0]]
  if (was === undefined) return 'added'
  if (is === undefined) return 'lost'
  if (has.length > had.length) return 'doubled'
  if (is === was) return 'kept'
  if (decoded(is) === was) return 'encoded_again'
  return decoded(was) === is ? 'decoded' : 'changed'
}
