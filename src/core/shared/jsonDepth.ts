/** Nothing that anybody writes on purpose is nested deeper. */
const MOST_LEVELS = 60

/** Whether JSON is nested so deep that reading it could exhaust the stack. Linear in its length; nothing is parsed. */
export function isTooDeep(text: string, most = MOST_LEVELS): boolean {
  let depth = 0
  let quoted = false
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i)
    if (quoted) {
      if (c === BACKSLASH) i += 1
      else if (c === QUOTE) quoted = false
    } else if (c === QUOTE) quoted = true
    else if (c === BRACE || c === BRACKET) {
      depth += 1
      if (depth > most) return true
    } else if (c === BRACE_END || c === BRACKET_END) depth -= 1
  }
  return false
}
const QUOTE = 0x22
const BACKSLASH = 0x5c
const BRACKET = 0x5b
const BRACKET_END = 0x5d
const BRACE = 0x7b
const BRACE_END = 0x7d
