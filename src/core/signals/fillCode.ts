/** The places of a tag's code that are filled in, written as RFC 6570 variables. */
export const places = ['account', 'event', 'value', 'currency', 'transaction', 'event_id', 'test'] as const
export type Place = (typeof places)[number]

/** What stands in `{test}` when the event comes from a live test; nothing otherwise. */
export const TEST_MARK = 'yes'

/** Whether a place of some code stands in the markup of a tag, and not in a script. */
export function isInTag(code: string, at: number): boolean {
  const before = code.slice(0, at)
  return (
    Math.max(...[...before.matchAll(/<(?:img|script|iframe|link)\b/gi)].map(m => m.index), -1) >
    before.lastIndexOf('>')
  )
}

/**
 * Fills a tag's code in; a place that is not given is left empty. Texts are escaped for a script, and
 * percent-encoded in the markup of a tag.
 *
 * @example
 * fillCode("tell('{event}', {value})", { event: 'purchase', value: '149.00' }) // "tell('purchase', 149.00)"
 */
export function fillCode(code: string, values: Partial<Record<Place, string>>): string {
  return code.replace(
    /\{(account|event|value|currency|transaction|event_id|test)\}/g,
    (_, place: Place, at) => {
      const value = values[place] ?? ''
      return isInTag(code, at)
        ? encodeURIComponent(value)
        : value.replace(/[\\'"`<]/g, c => `\\x${c.charCodeAt(0).toString(16)}`)
    },
  )
}

/**
 * The ID under which every network hears of an event, by whichever way: a transaction's is the same on a
 * reload, on another device and from the server, so that a network counts it once.
 */
export const networkEventId = (result: string, transaction: string | null | undefined, id: string): string =>
  transaction ? `${result}.${transaction}` : id
