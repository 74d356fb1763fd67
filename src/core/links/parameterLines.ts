/** Parameters as people write them: a line each, `key=value`. */
export const writeParameterLines = (parameters: Readonly<Record<string, string>>): string =>
  Object.entries(parameters)
    .map(([key, value]) => `${key}=${value}`)
    .join('\n')

/** A line that is no parameter, or whose key stood before; lines count from 1. */
export type ParameterLineProblem = { code: 'no_parameter' | 'key_twice'; line: number; text: string }

/**
 * Reads lines of `key=value`; a key without a value is left out, and blank lines are none.
 *
 * @example
 * readParameterLines('utm_source=newsletter\nutm_term=') // { parameters: { utm_source: 'newsletter' }, problems: [] }
 */
export function readParameterLines(text: string): {
  parameters: Record<string, string>
  problems: ParameterLineProblem[]
} {
  const parameters = new Map<string, string>()
  const problems: ParameterLineProblem[] = []
  for (const [i, line] of text.split('\n').entries()) {
    const trimmed = line.trim()
    if (trimmed === '') continue
    const found = /^([^=\s]+)\s*=\s*(.*)$/.exec(trimmed)
    if (!found) problems.push({ code: 'no_parameter', line: i + 1, text: trimmed })
    else if (parameters.has(found[1]!)) problems.push({ code: 'key_twice', line: i + 1, text: trimmed })
    else parameters.set(found[1]!, found[2]!)
  }
  const kept = [...parameters].filter(([, value]) => value !== '')
  return { parameters: Object.fromEntries(kept), problems }
}
