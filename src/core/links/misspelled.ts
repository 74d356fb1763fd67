import { distance } from 'fastest-levenshtein'
import { type Dialect, isNeutralToken, type NetworkProfile, neutralTokens, spell } from './profile'

/** Stands for a token in a text that is searched for slips, so that it is none itself. */
export const standIn = (token: string) => `\u0001${token}\u0002`

/** A name in braces with what makes it no simple expression: an operator, a modifier, or more braces. */
const IN_BRACES = /\{+[+#./;?&]?([A-Za-z]\w*(?:\.\w+)*)(?::\d+|\*)?\}+|\{+\u0001([\w.]+)\u0002\}+/

/** The one written name that is at most two letters away; null where none or several are. */
function nearest(name: string, written: readonly string[]): string | null {
  const near = written
    .map(other => ({ other, away: distance(name.toLowerCase(), other.toLowerCase()) }))
    .filter(({ away }) => away <= 2 && away < name.length / 2)
    .sort((a, b) => a.away - b.away)
  return near[0] && near[0].away !== near[1]?.away ? near[0].other : null
}

/** The token that this network supplies and that a name not known almost spells. */
export const nearestToken = (name: string, { dialect }: NetworkProfile): string | null =>
  nearest(
    name,
    Object.keys(neutralTokens).filter(token => spell(dialect, token) !== null),
  )

const escapeRegExp = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')

/** What a token between a dialect's delimiters looks like. */
export const tokenShape = ({ open, close }: Pick<Dialect, 'open' | 'close'>): RegExp =>
  new RegExp(`${escapeRegExp(open)}([\\w.-]+)${escapeRegExp(close)}`, 'g')

/** Whether people write these characters for themselves: what stands in them need not be meant as a token. */
export const isOrdinary = (open: string): boolean => /^[%~#]?$/.test(open)

/**
 * Text that has the shape of one of this network's tokens, or of a neutral one, and is none: it would
 * travel as it stands. Delimiters that are ordinary text count only around what almost is a token.
 *
 * @param text with a stand-in for each token that it holds
 * @returns the text, and the token that alone can be meant
 * @example
 * misspelledToken('x-[[ad_titel]]', norrfeed) // { text: '[[ad_titel]]', token: 'ad.name' }
 */
export function misspelledToken(
  text: string,
  profile: NetworkProfile,
): { text: string; token: string | null } | null {
  const { open, close, tokens } = profile.dialect
  if (open && close) {
    const spelled = Object.values(tokens)
    for (const [whole, inner] of text.matchAll(tokenShape(profile.dialect))) {
      if (!inner || spelled.includes(inner)) continue
      const almost = nearest(inner, spelled)
      const token = Object.keys(tokens).find(t => tokens[t] === almost) ?? null
      if (token || !isOrdinary(open)) return { text: whole, token }
    }
  }
  if (open.includes('{')) return null
  const braces = IN_BRACES.exec(text)
  const name = braces?.[1] ?? braces?.[2]
  if (!braces || !name) return null
  const token = isNeutralToken(name) && spell(profile.dialect, name) !== null ? name : null
  return { text: braces[0].replace(/\u0001(.*)\u0002/, '{$1}'), token }
}
