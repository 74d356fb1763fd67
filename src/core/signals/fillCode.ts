/** The places of a tag's code that are filled in, written as RFC 6570 variables. */
export const places = ['account', 'event', 'value', 'currency', 'transaction', 'event_id', 'test'] as const
export type Place = (typeof places)[number]
export const isPlace = (name: string): name is Place => places.some(place => place === name)

/** What stands in `{test}` when the event comes from a live test; nothing otherwise. */
export const TEST_MARK = 'yes'

/**
 * Where a place stands: within a text of a script, bare in a script, in an attribute that is an address or
 * in another one, in the text of a page; or where no escape is safe.
 */
export const standings = ['string', 'bare', 'address', 'attribute', 'text', 'unsafe'] as const
export type Standing = (typeof standings)[number]
/** A part of a network's code: as it is, or a place to fill. */
export type CodePiece = string | { place: Place; as: Standing }

export type Values = Partial<Record<Place, string>>

const asString = (value: string) =>
  value.replace(/[^\w .,:;@+/-]/g, c => `\\u${c.charCodeAt(0).toString(16).padStart(4, '0')}`)
const asEntities = (value: string) => value.replace(/[^\w .,:;@+/-]/gu, c => `&#${c.codePointAt(0)};`)
const DECIMAL = /^-?\d+(\.\d+)?$/
const NAME = /^[A-Za-z_$][\w$]*$/
/** Written by whoever runs the shop; all else may come from an address that a stranger made. */
const ours: ReadonlySet<Place> = new Set(['account', 'event'])

const write: Record<Standing, (value: string, place: Place) => string> = {
  string: asString,
  bare: (value, place) =>
    DECIMAL.test(value) || (ours.has(place) && NAME.test(value))
      ? value
      : place === 'value'
        ? 'null'
        : `"${asString(value)}"`,
  address: value => encodeURIComponent(value).replace(/[!'()*]/g, c => `%${c.charCodeAt(0).toString(16)}`),
  attribute: value => asEntities(value).replaceAll(' ', '&#32;'),
  text: asEntities,
  unsafe: () => '',
}

/** A value is a decimal and a currency three letters: what else a page says of them is nothing. */
const kept = (place: Place, value: string): string =>
  (place === 'value' && !DECIMAL.test(value)) || (place === 'currency' && !/^[A-Za-z]{3}$/.test(value))
    ? ''
    : value.toWellFormed()

/** Fills the places of a network's code, each value written for where it stands; one that is not given is empty. */
export const fillPieces = (pieces: readonly CodePiece[], values: Values): string =>
  pieces
    .map(piece =>
      typeof piece === 'string'
        ? piece
        : write[piece.as](kept(piece.place, values[piece.place] ?? ''), piece.place),
    )
    .join('')

/**
 * The ID under which every network hears of an event, by whichever way: a transaction's is the same on a
 * reload, on another device and from the server, so that a network counts it once.
 */
export const networkEventId = (result: string, transaction: string | null | undefined, id: string): string =>
  transaction ? `${result}.${transaction}` : id

/** An amount as a decimal in a currency, empty where none is known. */
export interface Worth {
  value: string
  currency: string
}
/**
 * What a network hears that an event is worth: what was told of it, else what is usual. A currency without an
 * amount says nothing of what is usual, which is in the account's own.
 */
export const worthTold = (
  value: string | null | undefined,
  currency: string | null | undefined,
  usual: Worth,
): Worth => (value == null ? usual : { value, currency: currency ?? usual.currency })
