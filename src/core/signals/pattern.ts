import { RE2JS } from 're2js'
import safe from 'safe-regex2'
import type { Pattern } from './addressMatcher'

/** Why a pattern is refused: it is none, or a browser could hang in it. */
export type PatternProblem = 'not_a_pattern' | 'repeats_within_repeats'

const MOST_COMPILED = 1000
const compiled = new Map<string, Pattern | null>()

/**
 * A pattern of the RE2 syntax, which runs in a time that grows with the text alone (Cox, Regular Expression
 * Matching Can Be Simple And Fast, 2007): anybody can send an address, and nobody may stop us by it.
 *
 * @returns null for one that RE2 does not know
 */
export function compilePattern(text: string): Pattern | null {
  let pattern = compiled.get(text)
  if (pattern === undefined) {
    pattern = compileAnew(text)
    if (compiled.size >= MOST_COMPILED) compiled.clear()
    compiled.set(text, pattern)
  }
  return pattern
}

function compileAnew(text: string): Pattern | null {
  try {
    const pattern = RE2JS.compile(text)
    return { test: address => pattern.test(address) }
  } catch {
    return null
  }
}

/**
 * What is wrong with a pattern as somebody writes it. Browsers run it by backtracking, so that a repeat
 * within a repeat is refused as well.
 */
export function patternProblem(text: string): PatternProblem | null {
  if (compilePattern(text) === null) return 'not_a_pattern'
  return safe(text) ? null : 'repeats_within_repeats'
}
