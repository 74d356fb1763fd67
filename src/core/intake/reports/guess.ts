import type { NetworkProfile } from '../../links/profile'
import { currencyExponent } from '../../shared/money'
import { type Level, levels } from '../tree'
import { currencyIn, type DecimalMark, dateReader, decimalMarks, readFigure } from './cells'
import { fieldNames, type ReportField, type ReportMapping } from './mapping'
import { type DateOrder, dateOrders } from './moment'

/** The first rows of a report, as its file has them. */
export interface Sheet {
  header: string[]
  rows: string[][]
}

/** Different values of a column that are looked at. */
const MOST_SAMPLES = 60

/** A pattern of words in any script: those of letters with an alphabet stand by themselves, others anywhere. */
function anyOf(words: string): RegExp {
  const list = words.split('|')
  const isSpelled = (word: string) => /^[\p{Script=Latin} ?():]+$/u.test(word)
  const [spelled, drawn] = [list.filter(isSpelled), list.filter(word => !isSpelled(word))]
  return new RegExp([`(?<!\\p{L})(?:${spelled.join('|')})(?!\\p{L})`, ...drawn].join('|'), 'u')
}

/** Words of the trade, in the languages that reports come in, by which a heading tells a figure; looked for in this order. A ratio is no figure. */
const isRatio = anyOf(
  'per|rate|ratio|average|avg|cpc|cpm|ctr|cpa|roas|share|frequency|pro|je|durchschnitt(?:lich)?|anteil|quote|par|taux|moyen(?:ne)?|por|tasa|promedio|per|tasso|gemiddeld(?:e)?|平均|率|単価|%',
)
const figureWords: readonly [ReportField, RegExp][] = [
  [
    'spend',
    anyOf('valor (?:gasto|investido|usado)|importe gastado|montant depense|kwota wydana|wydana kwota'),
  ],
  [
    'value',
    anyOf(
      'value|revenue|worth|turnover|wert|umsatz|valeur|revenus?|valor|ingresos|valore|ricavi|waarde|omzet|receita|wartosc|przychod|価値|売上',
    ),
  ],
  ['view_through', anyOf('view|viewed|viewthrough|post view')],
  ['conversion', /\b(conversion|action|event|result|goal) (name|type|kind)\b/],
  [
    'click_through',
    anyOf(
      'conversions?|purchases?|orders?|sales|leads?|results?|actions?|sign ?ups?|conversionen|kaufe|bestellungen|ergebnisse|ventes|achats|resultats|conversiones|compras|resultados|conversioni|acquisti|risultati|conversies|aankopen|conversoes|konwersje|konwersji|zakupy|zamowienia|コンバージョン|購入',
    ),
  ],
  [
    'spend',
    anyOf(
      'spend|spent|costs?|charged?|amount|ausgaben|ausgegeben|kosten|betrag|depenses?|couts?|montant|gastos?|costes?|importe|spesa|costo|costi|uitgaven|custos?|investimentos?|koszty?|wydatki|費用|消化金額|ご利用額',
    ),
  ],
  [
    'impressions',
    anyOf(
      'impressions?|impr|shown|served|displays?|impressionen|einblendungen|affichages|impresiones|impressioni|vertoningen|impressoes|exibicoes|wyswietlenia|表示回数|インプレッション',
    ),
  ],
  [
    'reach',
    anyOf('reach|reached|people|unique viewers|reichweite|portee|alcance|copertura|bereik|zasieg|リーチ'),
  ],
  ['clicks', anyOf('clicks?|taps?|visits?|klicks?|clics?|cliques|klikken|klikniecia|クリック')],
  ['currency', anyOf('currency|wahrung|devise|moneda|valuta|moeda|waluta|通貨')],
  ['match_type', anyOf('match')],
  ['keyword', anyOf('keywords?|suchbegriff|mot cle|palabra clave|parola chiave|zoekwoord|キーワード')],
  [
    'placement',
    anyOf('placement|spot|position|platzierung|emplacement|ubicacion|posizionamento|plaatsing|掲載面'),
  ],
  ['device', anyOf('devices?|gerat|appareil|dispositivo|apparaat|デバイス')],
  ['source', anyOf('source|quelle|fuente|fonte|bron')],
  ['date', anyOf('date|day|period|datum|tag|jour|fecha|dia|data|giorno|dag|日付|日')],
]
const usualLevelNames: Record<Level, readonly string[]> = {
  campaign: [
    'campaign',
    'kampagne',
    'campagne',
    'campana',
    'campagna',
    'campanha',
    'kampania',
    'キャンペーン',
  ],
  ad_set: [
    'ad set',
    'ad group',
    'adset',
    'adgroup',
    'line',
    'anzeigengruppe',
    'groupe d annonces',
    'grupo de anuncios',
    'conjunto de anuncios',
    'gruppo di annunci',
    'advertentiegroep',
    '広告グループ',
    '広告セット',
  ],
  ad: ['ad', 'creative', 'post', 'anzeige', 'annonce', 'anuncio', 'annuncio', 'advertentie', '広告'],
}
const idWord = /\b(id|ref|reference|no|number|nr|nummer|key|code)\b|#/

/** A heading in small letters without marks above them. */
const plain = (heading: string) =>
  heading
    .normalize('NFKD')
    .replace(/(?<=\p{Script=Latin})\p{M}+/gu, '')
    .normalize('NFKC')
    .toLowerCase()
    .replace(/\([^)]*\)/g, ' ')
    .replace(/[^\p{L}\p{N}#%]+/gu, ' ')
    .trim()

/** Whether a heading is a level's name, or begins with it: in scripts that part words, with its whole word. */
const begins = (text: string, name: string): boolean =>
  text === name || text.startsWith(/\p{Script=Latin}/u.test(name) ? `${name} ` : name)

/** The field that a heading names in the trade's words or the network's own; null when it says none. */
function fieldOf(heading: string, profile: NetworkProfile | null): ReportField | null {
  const text = plain(heading)
  // "ad set ref" begins with "ad" too: the longest name is meant.
  const [named] = levels
    .flatMap(level =>
      [profile?.level_names[level]?.toLowerCase() ?? '', ...usualLevelNames[level]].map(name => ({
        level,
        name,
      })),
    )
    .filter(({ name }) => name !== '' && begins(text, name))
    .sort((a, b) => b.name.length - a.name.length)
  if (named) {
    const { level, name } = named
    const rest = text.slice(name.length).trim()
    if (idWord.test(rest)) return `${level}_id`
    if (rest === '' || /^(name|title|titel|nom|nombre|nome|naam|名)$/.test(rest)) return `${level}_name`
  }
  if (isRatio.test(text)) return null
  return figureWords.find(([, words]) => words.test(text))?.[0] ?? null
}

/** The order of the dates in which all of a column's samples are dates; `sure` where all that fit say the same days. */
export function guessDates(samples: readonly string[]): { order: DateOrder; sure: boolean } {
  const fits = dateOrders.filter(
    order => samples.length > 0 && samples.every(s => dateReader(order)(s) !== null),
  )
  const order = fits[0] ?? 'ymd'
  const said = (by: DateOrder) => samples.map(dateReader(by)).join()
  return { order, sure: fits.length > 0 && fits.every(fit => said(fit) === said(order)) }
}

function guessDecimal(samples: readonly string[]): DecimalMark {
  const fits = (mark: DecimalMark) => samples.filter(s => readFigure(s, mark, 2) !== null).length
  const parted = samples.filter(s => /,\d{1,2}\D*$/.test(s)).length
  const [point, comma] = decimalMarks.map(fits)
  return comma! > point! || (comma === point && parted > samples.length / 2) ? ',' : '.'
}

const isDateLike = (text: string) => dateOrders.some(order => dateReader(order)(text) !== null)

/** The different values of a column's first rows. */
export function samplesOf({ header, rows }: Sheet, heading: string | undefined): string[] {
  const at = header.indexOf(heading ?? '')
  const cells = at < 0 ? [] : rows.map(row => row[at]?.trim() ?? '')
  return [...new Set(cells.filter(Boolean))].slice(0, MOST_SAMPLES)
}

/**
 * How a report writes its days and amounts, by the columns that hold them.
 *
 * @param currency of amounts that name none
 * @returns with `doubts` about what could as well be otherwise
 */
export function guessForms(
  sheet: Sheet,
  { date, spend, value, click_through, view_through }: ReportMapping['columns'],
  currency: string,
): { forms: Pick<ReportMapping, 'date_order' | 'decimal' | 'currency'>; doubts: 'date_order'[] } {
  const dates = guessDates(samplesOf(sheet, date).filter(isDateLike))
  const named = [spend ?? '', ...samplesOf(sheet, spend)].flatMap(text => currencyIn(text) ?? [])
  return {
    forms: {
      date_order: dates.order,
      decimal: guessDecimal(
        [spend, value, click_through, view_through].flatMap(heading => samplesOf(sheet, heading)),
      ),
      currency: named[0] && currencyExponent(named[0]) !== null ? named[0] : currency,
    },
    doubts: dates.sure ? [] : ['date_order'],
  }
}

/**
 * A mapping that fits a report's headings and first rows as well as they tell; somebody corrects it.
 *
 * @param own the workspace's currency and zone, for what neither file nor profile says
 * @returns with `doubts` about what could as well be otherwise
 */
export function guessMapping(
  sheet: Sheet,
  profile: NetworkProfile | null,
  own: { currency: string; time_zone: string },
): { mapping: ReportMapping; doubts: 'date_order'[] } {
  const { header } = sheet
  const columns: ReportMapping['columns'] = {}
  for (const field of fieldNames) {
    const settled = profile?.report_columns[field]
    if (settled && header.includes(settled)) columns[field] = settled
  }
  const taken = new Set(Object.values(columns))
  for (const heading of header) {
    const field = taken.has(heading) ? null : fieldOf(heading, profile)
    if (field && !columns[field]) columns[field] = heading
  }
  // The last lines of a report may be totals: a few cells that are no dates do not matter.
  const mostlyDates = (heading: string) => {
    const samples = samplesOf(sheet, heading)
    return samples.length > 0 && samples.filter(isDateLike).length >= samples.length * 0.7
  }
  if (!columns.date || !mostlyDates(columns.date)) {
    const dated = header.find(mostlyDates)
    if (dated) columns.date = dated
  }
  const { forms, doubts } = guessForms(sheet, columns, own.currency)
  const time_zone = profile?.time_zone ?? own.time_zone
  return { mapping: { columns, ...forms, conversion: 'purchase', time_zone }, doubts }
}
