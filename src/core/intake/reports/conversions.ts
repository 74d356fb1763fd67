import type { ConversionColumns } from './mapping'
import { anyOf, plainWords } from './words'

/** A conversion of whatever kind. */
export const ANY_CONVERSION = 'conversion'

/** What kinds of conversion a heading can count, each by its words in the languages that reports come in. */
const kinds: readonly [conversion: string, words: RegExp][] = [
  [
    'add_to_basket',
    anyOf(
      'adds? to (?:basket|cart|bag)|basket adds?|in den warenkorb|ajouts? au panier|do koszyka|カート追加',
    ),
  ],
  ['checkout', anyOf('checkouts?|checkouts? started|kasse|paiements? inities?')],
  [
    'sign_up',
    anyOf(
      'sign ?ups?|registrations?|registrierungen|anmeldungen|inscriptions?|registros?|cadastros?|iscrizioni|rejestracje|登録',
    ),
  ],
  ['subscription', anyOf('subscriptions?|abonnements?|assinaturas?|suscripciones|subskrypcje')],
  ['call', anyOf('(?:phone )?calls?|anrufe|appels?|llamadas|chamadas|chiamate|polaczenia|通話')],
  ['download', anyOf('downloads?|installs?|telechargements?|descargas|pobrania')],
  ['lead', anyOf('leads?|leady|prospects?|kontaktanfragen|contatti|kontakty|リード')],
  [
    'purchase',
    anyOf(
      'purchases?|orders?|sales|transactions?|kaufe?|bestellungen|ventes|achats?|commandes?|compras?|pedidos?|vendas?|ventas|acquisti|ordini|aankopen|bestellingen|zakupy|zakupow|zamowienia|zamowien|transakcje|購入',
    ),
  ],
  [
    ANY_CONVERSION,
    anyOf(
      'conversions?|conv|results?|actions?|conversionen|ergebnisse|resultats?|conversiones|resultados|conversioni|risultati|conversies|conversoes|konwersje|konwersji|コンバージョン',
    ),
  ],
]
const VALUE = anyOf(
  'value|revenue|worth|turnover|wert|umsatz|valeur|revenus?|valor|ingresos|valore|ricavi|waarde|omzet|receita|wartosc|przychod|価値|売上',
)
const VIEW = anyOf('view|viewed|viewthrough|view through|post view|impression|anzeigenaufruf|vue|vista|表示')

/** What a heading says of conversions: of which kind, and whether it counts those after a click or a view, or their value. */
export interface ConversionHeading {
  /** null where it names a value alone */
  conversion: string | null
  holds: 'click_through' | 'view_through' | 'value'
}

/** What a heading tells of conversions; null where it tells none. Ratios are for the caller to leave out. */
export function conversionHeading(heading: string): ConversionHeading | null {
  const text = plainWords(heading)
  const conversion = kinds.find(([, words]) => words.test(text))?.[0] ?? null
  if (VALUE.test(text)) return { conversion, holds: 'value' }
  const through = /view ?through|post view/.test(text)
  if (conversion === null) return through ? { conversion: ANY_CONVERSION, holds: 'view_through' } : null
  return { conversion, holds: through || VIEW.test(text) ? 'view_through' : 'click_through' }
}

/** Whether a network's word for a conversion plainly says something other than an order. */
export function isOtherConversion(conversion: string): boolean {
  const text = plainWords(conversion)
  const kind = kinds.find(([, words]) => words.test(text))?.[0]
  return kind !== undefined && kind !== 'purchase' && kind !== ANY_CONVERSION
}

/**
 * The conversions that a report's headings tell, each with its columns: orders first, then the others in their order.
 * A value that names no kind belongs to the conversion before it, or else to the first. Where orders are told apart,
 * a column of all kinds together is none of them.
 *
 * @param sumsUp whether a column counts what others count together
 */
export function conversionsIn(
  headings: readonly string[],
  sumsUp: (whole: string, parts: readonly string[]) => boolean,
): ConversionColumns[] {
  const found: ConversionColumns[] = []
  const loose: { heading: string; after: ConversionColumns | undefined }[] = []
  let latest: ConversionColumns | undefined
  for (const heading of headings) {
    const told = conversionHeading(heading)
    if (!told) continue
    if (told.conversion === null) {
      loose.push({ heading, after: latest })
      continue
    }
    let own = found.find(one => one.conversion === told.conversion)
    if (!own) found.push((own = { conversion: told.conversion }))
    own[told.holds] ??= heading
    latest = own
  }
  const counted = found.filter(one => one.click_through ?? one.view_through)
  const apart = counted.filter(one => one.conversion !== ANY_CONVERSION)
  // "Conversion value" may be the only value beside a column of orders.
  const whole = found.find(one => one.conversion === ANY_CONVERSION)
  const heads = (some: readonly ConversionColumns[]) => some.flatMap(one => one.click_through ?? [])
  const isWhole =
    apart.some(one => one.conversion === 'purchase') ||
    (apart.length > 0 && sumsUp(heads(whole ? [whole] : [])[0] ?? '', heads(apart)))
  const kept = isWhole ? apart : counted
  const first = (one: ConversionColumns) => Number(one.conversion === 'purchase') * 2 + Number(one === whole)
  kept.sort((a, b) => first(b) - first(a))
  for (const { heading, after } of loose) {
    const own = after && kept.includes(after) && !after.value ? after : kept[0]
    if (own && !own.value) own.value = heading
  }
  if (kept[0] && !kept[0].value && whole?.value) kept[0].value = whole.value
  return kept
}
