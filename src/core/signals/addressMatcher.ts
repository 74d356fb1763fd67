/** How a rule's text is compared with an address. */
export const comparisons = ['equals', 'starts_with', 'contains', 'pattern'] as const
export type Comparison = (typeof comparisons)[number]
export interface AddressCondition {
  by: Comparison
  text: string
}
/** Which addresses are meant: any of some conditions, and none of others. No condition at all is every address. */
export interface AddressConditions {
  any: readonly AddressCondition[]
  none: readonly AddressCondition[]
}

interface Parts {
  host: string
  path: string
  parameters: [string, string][]
  /** host, path and query as one text: what prefixes, parts and patterns are compared with */
  text: string
}

const parsed = new Map<string, Parts | null>()
const MOST_PARSED = 5000

/** A fragment by which a single-page site names its pages, `#/basket` or `#!/basket`; any other is a place on a page. */
const ROUTE = /^#!?\//

/** An address without scheme, default port, fragment and trailing slash; null for what is none. */
function partsOf(address: string): Parts | null {
  let parts = parsed.get(address)
  if (parts === undefined) {
    parts = readParts(address)
    if (parsed.size >= MOST_PARSED) parsed.clear()
    parsed.set(address, parts)
  }
  return parts
}

/** Schemes of addresses that name no host: a number to call, a mail to write, an app to open. */
const WITHOUT_HOST = /^(?:tel|sms|smsto|callto|mailto|sips?|geo|facetime|skype|viber|tg|intent|market):/i
/** Of any scheme but a page's. */
const OF_AN_APP = /^(?!https?:)[a-z][a-z0-9+.-]*:\/\//i
/** What makes a number easier to read, and is none of it (RFC 3966). */
const separators = /[\s().-]|%20/g

/** A link that leads to no page, as a rule and a click write it alike; null for a page's address. */
function linkText(text: string): string | null {
  if (!WITHOUT_HOST.test(text) && !OF_AN_APP.test(text)) return null
  const [, scheme = '', rest = ''] = /^([^:]*:)(.*)$/s.exec(text) ?? []
  const own = scheme.toLowerCase()
  return own + (/^(tel|sms|smsto|callto):$/.test(own) ? rest.replace(separators, '') : rest)
}

function readParts(address: string): Parts | null {
  const link = linkText(address)
  if (link !== null) {
    const [path = '', query = ''] = link.split('?')
    return { host: '', path, parameters: [...new URLSearchParams(query)], text: link }
  }
  const relative = address.startsWith('/')
  const whole = relative
    ? `http://a${address}`
    : /^[a-z][a-z0-9+.-]*:\/\//i.test(address)
      ? address
      : `http://${address}`
  if (!URL.canParse(whole)) return null
  const url = new URL(whole)
  const host = relative ? '' : url.host.replace(/:(80|443)$/, '')
  if (!ROUTE.test(url.hash)) {
    const path = url.pathname.replace(/\/+$/, '')
    return { host, path, parameters: [...url.searchParams], text: host + path + url.search }
  }
  const [route = '', query] = url.hash.replace(/\/+$/, '').split('?')
  const parameters = [...url.searchParams, ...new URLSearchParams(query)]
  return { host, path: url.pathname + route, parameters, text: host + url.pathname + url.search + url.hash }
}

/** Text of a rule, brought into the form of `Parts.text`, so that neither scheme nor letter case of the host matter. */
function prefixOf(text: string): string {
  const link = linkText(text)
  if (link !== null) return link
  const bare = text.replace(/^[a-z][a-z0-9+.-]*:\/\//i, '').replace(/^([^/?#]*?):(?:80|443)(?=[/?#]|$)/, '$1')
  const [, host = '', rest = ''] = /^([^/?#]*)(.*)$/s.exec(bare) ?? []
  return host.toLowerCase() + rest
}

/** A pattern that can be asked whether it is in a text. */
export interface Pattern {
  test: (text: string) => boolean
}
/** Makes a pattern of what stands in a rule; null where it is none. */
export type Compile = (text: string) => Pattern | null

const tests: Record<Comparison, (text: string, address: Parts, compile: Compile) => boolean> = {
  /** Every parameter of the rule must be there; the address may have more. */
  equals: (text, { host, path, parameters }) => {
    const wanted = partsOf(text)
    return (
      wanted !== null &&
      (wanted.host === '' || wanted.host === host) &&
      wanted.path === path &&
      wanted.parameters.every(([key, value]) => parameters.some(([k, v]) => k === key && v === value))
    )
  },
  starts_with: (text, { host, text: address }) => {
    const prefix = prefixOf(text)
    const from = prefix.startsWith('/') ? address.slice(host.length) : address
    return from.startsWith(prefix) || `${from}/` === prefix
  },
  contains: (text, { text: address }) => address.includes(linkText(text) ?? text),
  pattern: (text, { text: address }, compile) => compile(text)?.test(address) ?? false,
}

/**
 * What says whether an address is meant. Scheme, default port, trailing slash and the letter case of the
 * host make no difference; a text that begins with `/` is compared on any host.
 *
 * @param compile by which engine patterns are run: on the server one whose time grows with the text alone
 */
export const addressMatcher =
  (compile: Compile) =>
  ({ any, none }: AddressConditions, address: string): boolean => {
    const parts = partsOf(address)
    if (!parts) return false
    const holds = ({ by, text }: AddressCondition) => tests[by](text, parts, compile)
    return (any.length === 0 || any.some(holds)) && !none.some(holds)
  }
