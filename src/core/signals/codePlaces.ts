import { type CodePiece, fillPieces, isPlace, type Place, type Standing, type Values } from './fillCode'

// Where the places of a network's code stand, so that each value can be written for where it goes.

const addressAttributes = new Set(['src', 'href', 'action', 'formaction', 'poster', 'data', 'background'])
/** Attributes whose text is run, or read as a page of its own: nothing can be escaped for them. */
const runsText = (attribute: string) => /^on|^style$|^srcdoc$/i.test(attribute)

const PLACE = /\{([a-z_]+)\}/y
/** What may stand before a `/` that begins a regular expression and does not divide. */
const beforeRegex = /(?:^|[(,=:[!&|?{};+\-*%~^<>]|\breturn)\s*$/

/**
 * Parts a network's code at its places. Code without markup is a script.
 *
 * @example
 * partCode("tell('{event}', {value})")
 * // ["tell('", { place: 'event', as: 'string' }, "', ", { place: 'value', as: 'bare' }, ')']
 */
export function partCode(code: string): CodePiece[] {
  const pieces: CodePiece[] = []
  let from = 0
  eachPlace(code, (at, length, place, as) => {
    if (at > from) pieces.push(code.slice(from, at))
    pieces.push({ place, as })
    from = at + length
  })
  if (from < code.length) pieces.push(code.slice(from))
  return pieces
}

/** Places for which nothing that is filled in could be made safe: in comments, patterns, handlers, styles and names. */
export const unsafePlaces = (code: string): string[] =>
  partCode(code).flatMap(piece => (typeof piece !== 'string' && piece.as === 'unsafe' ? [piece.place] : []))

type Found = (at: number, length: number, place: Place, as: Standing) => void

function eachPlace(code: string, found: Found): void {
  const note = (at: number, as: Standing): number => {
    PLACE.lastIndex = at
    const [whole, name = ''] = PLACE.exec(code) ?? []
    if (!whole || !isPlace(name)) return 0
    found(at, whole.length, name, as)
    return whole.length
  }
  if (code.includes('<')) scanMarkup(code, note)
  else scanScript(code, 0, code.length, note)
}
type Note = (at: number, as: Standing) => number

/** Goes on to a mark, noting what places stand before it. */
function skipTo(code: string, from: number, mark: string, as: Standing, note: Note): number {
  let at = from
  while (at < code.length && !code.startsWith(mark, at)) at += note(at, as) || 1
  return at + mark.length
}

function scanMarkup(code: string, note: Note): void {
  let at = 0
  while (at < code.length) {
    if (code.startsWith('<!--', at)) at = skipTo(code, at + 4, '-->', 'unsafe', note)
    else if (/^<\/?[a-z]/i.test(code.slice(at, at + 3))) {
      const [, tag = ''] = /^<\/?([a-z][^\s/>]*)/i.exec(code.slice(at, at + 40)) ?? []
      const opens = code[at + 1] !== '/'
      at = scanTag(code, at + 1, note)
      const end = opens ? /^(script|style)$/i.exec(tag) : null
      if (!end) continue
      const close = code.toLowerCase().indexOf(`</${tag.toLowerCase()}`, at)
      const until = close < 0 ? code.length : close
      if (tag.toLowerCase() === 'script') scanScript(code, at, until, note)
      else while (at < until) at += note(at, 'unsafe') || 1
      at = until
    } else at += note(at, 'text') || 1
  }
}

/** A tag from behind its `<` to behind its `>`. */
function scanTag(code: string, from: number, note: Note): number {
  let at = from
  let name = ''
  while (at < code.length && code[at] !== '>') {
    const taken = note(at, 'unsafe')
    if (taken > 0) at += taken
    else if (code[at] === '=') at = scanValue(code, at + 1, name, note)
    else {
      name = /[\s/]/.test(code[at]!) ? '' : name + code[at]
      at += 1
    }
  }
  return at + 1
}

function scanValue(code: string, from: number, attribute: string, note: Note): number {
  const as: Standing = runsText(attribute)
    ? 'unsafe'
    : addressAttributes.has(attribute.toLowerCase())
      ? 'address'
      : 'attribute'
  let at = from
  while (/\s/.test(code[at] ?? '')) at += 1
  const quote = code[at]
  if (quote === '"' || quote === "'") return skipTo(code, at + 1, quote, as, note)
  while (at < code.length && !/[\s>]/.test(code[at]!)) at += note(at, as) || 1
  return at
}

function scanScript(code: string, from: number, until: number, note: Note): void {
  let at = from
  while (at < until) {
    const c = code[at]!
    if (c === '"' || c === "'" || c === '`') at = scanString(code, at + 1, until, c, note)
    else if (code.startsWith('//', at)) at = skipTo(code.slice(0, until), at + 2, '\n', 'unsafe', note)
    else if (code.startsWith('/*', at)) at = skipTo(code.slice(0, until), at + 2, '*/', 'unsafe', note)
    else if (c === '/' && beforeRegex.test(code.slice(from, at)))
      at = scanString(code, at + 1, until, '/', note)
    else at += note(at, 'bare') || 1
  }
}

/** A text, or a regular expression, from behind its opening mark to behind its closing one. */
function scanString(code: string, from: number, until: number, mark: string, note: Note): number {
  let at = from
  let inside = 0
  while (at < until) {
    if (code[at] === '\\') at += 2
    else if (mark === '`' && code.startsWith('${', at)) {
      inside += 1
      at += 2
    } else if (inside > 0 && code[at] === '}') {
      inside -= 1
      at += 1
    } else if (code[at] === mark && inside === 0) return at + 1
    else at += note(at, mark === '/' || inside > 0 ? 'unsafe' : 'string') || 1
  }
  return at
}

/**
 * Fills a network's code in; a place that is not given is left empty.
 *
 * @example
 * fillCode("tell('{event}', {value})", { event: 'purchase', value: '149.00' }) // "tell('purchase', 149.00)"
 */
export const fillCode = (code: string, values: Values): string => fillPieces(partCode(code), values)

/** Fills in what is known already; other places stay as they are, for whoever fills them in later. */
export const fillKnown = (code: string, known: Values): string =>
  partCode(code)
    .map(piece =>
      typeof piece === 'string'
        ? piece
        : known[piece.place] === undefined
          ? `{${piece.place}}`
          : fillPieces([piece], known),
    )
    .join('')
