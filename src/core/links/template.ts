import { type Dialect, isNeutralToken, spellings } from './profile'

/** A template taken apart: literal text and tokens, in order. */
export type Segment = { kind: 'literal'; text: string } | { kind: 'token'; token: string; known: boolean }

/** A simple expression of RFC 6570 (level 1): one variable name in braces. */
const EXPRESSION = /\{([A-Za-z0-9_]+(?:\.[A-Za-z0-9_]+)*)\}/

/**
 * Takes a template apart. Besides neutral tokens it reads the dialect's own spellings, so that a value
 * pasted from the network's help text is the token it means.
 *
 * @example
 * parseTemplate('ad-{ad.name}') // literal 'ad-', token 'ad.name'
 */
export function parseTemplate(template: string, dialect?: Dialect): Segment[] {
  const own = dialect ? spellings(dialect) : []
  const segments: Segment[] = []
  let literal = ''
  let rest = template
  const endLiteral = () => {
    if (literal) segments.push({ kind: 'literal', text: literal })
    literal = ''
  }
  while (rest) {
    const spelled = own.find(([spelling]) => spelling && rest.startsWith(spelling))
    const expression = spelled ? null : EXPRESSION.exec(rest)
    if (spelled) {
      endLiteral()
      segments.push({ kind: 'token', token: spelled[1], known: true })
      rest = rest.slice(spelled[0].length)
    } else if (expression?.index === 0) {
      endLiteral()
      const token = expression[1]!
      segments.push({ kind: 'token', token, known: isNeutralToken(token) })
      rest = rest.slice(expression[0].length)
    } else {
      const character = String.fromCodePoint(rest.codePointAt(0)!)
      literal += character
      rest = rest.slice(character.length)
    }
  }
  endLiteral()
  return segments
}

/** A template's text again; its tokens in Aequant's neutral writing. */
export const writeTemplate = (segments: readonly Segment[]): string =>
  segments.map(s => (s.kind === 'literal' ? s.text : `{${s.token}}`)).join('')

/**
 * Percent-encodes literal text (UTF-8), and besides RFC 3986's reserved characters also those the
 * dialect delimits its tokens with, so that no literal can be taken for a token.
 */
export function encodeLiteral(text: string, dialect?: Dialect): string {
  const delimiters = new Set(dialect ? dialect.open + dialect.close : '')
  return encodeURIComponent(text.toWellFormed()).replace(/[!'()*~_.-]/g, c =>
    c === "'" || delimiters.has(c) ? `%${c.charCodeAt(0).toString(16).toUpperCase()}` : c,
  )
}
