import type { NetworkProfile } from '../../links/profile'
import { formatDay } from '../../shared/days'
import { currencyExponent } from '../../shared/money'
import { type Level, levels } from '../tree'
import { currencyIn, type DecimalMark, decimalMarks, readFigure } from './cells'
import { ANY_CONVERSION, type ConversionHeading, conversionHeading, conversionsIn } from './conversions'
import { fieldNames, type ReportField, type ReportMapping } from './mapping'
import { type DateOrder, dateOrders } from './moment'
import { type Covers, spanReader } from './span'
import { anyOf, plainWords } from './words'

/** The first rows of a report, as its file has them. */
export interface Sheet {
  header: string[]
  rows: string[][]
}

/** Different values of a column that are looked at. */
const MOST_SAMPLES = 60

/** Words of the trade, in the languages that reports come in, by which a heading tells a figure; looked for in this order. A ratio is no figure. */
const isRatio = anyOf(
  'per|rate|ratio|average|avg|cpc|cpm|ctr|cpa|roas|share|frequency|pro|je|durchschnitt(?:lich)?|anteil|quote|par|taux|moyen(?:ne)?|por|tasa|promedio|per|tasso|gemiddeld(?:e)?|平均|率|単価|%',
)
/** Looked for before conversions, whose words they hold. */
const firstWords: readonly [ReportField, RegExp][] = [
  [
    'spend',
    anyOf('valor (?:gasto|investido|usado)|importe gastado|montant depense|kwota wydana|wydana kwota'),
  ],
  ['conversion', /\b(conversion|action|event|result|goal) (name|type|kind)\b/],
]
const figureWords: readonly [ReportField, RegExp][] = [
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
  [
    'date_to',
    anyOf('end|ends|ended|until|to|ending|bis|ende|fin|hasta|fim|ate|fine|tot|eind|einde|do|koniec|終了日'),
  ],
  [
    'date',
    anyOf(
      'date|day|period|starts?|from|week|month|datum|tag|von|beginn|woche|monat|jour|debut|semaine|mois|fecha|desde|semana|mes|dia|data|inicio|giorno|settimana|mese|dag|dzien|od|tydzien|miesiac|日付|日|週',
    ),
  ],
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

/** A heading in small letters without marks above them, and without what stands in brackets. */
const plain = (heading: string) => plainWords(heading.replace(/\([^)]*\)/g, ' '))

/** Whether a heading is a level's name, or begins with it: in scripts that part words, with its whole word. */
const begins = (text: string, name: string): boolean =>
  text === name || text.startsWith(/\p{Script=Latin}/u.test(name) ? `${name} ` : name)

/** The field that a heading names in the trade's words or the network's own, or what of conversions; null when it says none. */
function fieldOf(heading: string, profile: NetworkProfile | null): ReportField | ConversionHeading | null {
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
  const fieldIn = (list: typeof figureWords) => list.find(([, words]) => words.test(text))?.[0]
  const field = fieldIn(firstWords) ?? conversionHeading(heading) ?? fieldIn(figureWords) ?? null
  // The days on which a campaign begins and ends are no line's.
  return named && (field === 'date' || field === 'date_to') ? null : field
}

/** The order of the dates in which all of a column's samples are dates; `sure` where all that fit say the same days. */
export function guessDates(samples: readonly string[]): { order: DateOrder; sure: boolean } {
  const fits = dateOrders.filter(
    order => samples.length > 0 && samples.every(s => spanReader(order)(s) !== null),
  )
  const order = fits[0] ?? 'ymd'
  const said = (by: DateOrder) => JSON.stringify(samples.map(spanReader(by)))
  return { order, sure: fits.length > 0 && fits.every(fit => said(fit) === said(order)) }
}

const WEEK = anyOf('week|weeks|woche|kw|semaine|semana|settimana|tydzien|tygodnie|setmana|週')
const MONTH = anyOf('month|months|monat|mois|mes|mese|miesiac|maand|月')

/** For how many days a date of a column stands: by its heading, where its days agree with it; `sure` where they do. */
function guessCovers(
  heading: string,
  samples: readonly string[],
  order: DateOrder,
): { covers: Covers; sure: boolean } {
  const read = spanReader(order)
  const spans = samples.flatMap(text => read(text) ?? [])
  // Where a line names both its days, no date stands for more.
  if (spans.length === 0 || spans.some(({ from, to }) => to > from)) return { covers: 'day', sure: true }
  const days = [...new Set(spans.map(({ from }) => from))].sort((a, b) => a - b)
  const [first] = days
  const weekly = days.every(day => (day - first!) % 7 === 0)
  const monthly = days.every(day => formatDay(day).endsWith('-01'))
  const text = plain(heading)
  if (weekly && WEEK.test(text)) return { covers: 'week', sure: true }
  if (monthly && MONTH.test(text)) return { covers: 'month', sure: true }
  // Several days a week or a month apart, and none between them: they are hardly days.
  if (days.length >= 3 && monthly) return { covers: 'month', sure: false }
  if (days.length >= 3 && weekly) return { covers: 'week', sure: false }
  return { covers: 'day', sure: true }
}

function guessDecimal(samples: readonly string[]): DecimalMark {
  const fits = (mark: DecimalMark) => samples.filter(s => readFigure(s, mark, 2) !== null).length
  const parted = samples.filter(s => /,\d{1,2}\D*$/.test(s)).length
  const [point, comma] = decimalMarks.map(fits)
  return comma! > point! || (comma === point && parted > samples.length / 2) ? ',' : '.'
}

const isDateLike = (text: string) => dateOrders.some(order => spanReader(order)(text) !== null)

/** The different values of a column's first rows. */
export function samplesOf({ header, rows }: Sheet, heading: string | undefined): string[] {
  const at = header.indexOf(heading ?? '')
  const cells = at < 0 ? [] : rows.map(row => row[at]?.trim() ?? '')
  return [...new Set(cells.filter(Boolean))].slice(0, MOST_SAMPLES)
}

/** What could as well be otherwise: in which order its dates are written, and for how many days one stands. */
export type ReportDoubt = 'date_order' | 'covers'
const SURE_DAY = { covers: 'day', sure: true } as const

/**
 * How a report writes its days and amounts, by the columns that hold them.
 *
 * @param currency of amounts that name none
 * @returns with `doubts` about what could as well be otherwise
 */
export function guessForms(
  sheet: Sheet,
  { date, date_to, spend, value, click_through, view_through }: ReportMapping['columns'],
  currency: string,
): { forms: Pick<ReportMapping, 'date_order' | 'decimal' | 'currency' | 'covers'>; doubts: ReportDoubt[] } {
  const samples = samplesOf(sheet, date).filter(isDateLike)
  const dates = guessDates([...samples, ...samplesOf(sheet, date_to).filter(isDateLike)])
  const stands = date_to ? SURE_DAY : guessCovers(date ?? '', samples, dates.order)
  const named = [spend ?? '', ...samplesOf(sheet, spend)].flatMap(text => currencyIn(text) ?? [])
  return {
    forms: {
      date_order: dates.order,
      covers: stands.covers,
      decimal: guessDecimal(
        [spend, value, click_through, view_through].flatMap(heading => samplesOf(sheet, heading)),
      ),
      currency: named[0] && currencyExponent(named[0]) !== null ? named[0] : currency,
    },
    doubts: [...(dates.sure ? [] : ['date_order' as const]), ...(stands.sure ? [] : ['covers' as const])],
  }
}

/** Whether most of a column are figures. */
function isFigures(sheet: Sheet, heading: string): boolean {
  const samples = samplesOf(sheet, heading)
  const read = (text: string) => decimalMarks.some(mark => readFigure(text, mark, 2) !== null)
  return samples.filter(read).length >= samples.length * 0.7
}

/**
 * The first conversion's columns are the mapping's own, those of further ones stand beside them.
 *
 * @param columns so far; those of the first conversion are added
 */
function guessConversions(
  sheet: Sheet,
  columns: ReportMapping['columns'],
  headings: readonly string[],
): Pick<ReportMapping, 'conversion' | 'further'> {
  const settled = columns.click_through ?? columns.view_through
  const found = conversionsIn(headings, (whole, parts) => sumsUp(sheet, whole, parts))
  const [first, ...others] = settled ? [null, ...found] : [found[0] ?? null, ...found.slice(1)]
  if (first) {
    const { conversion: _, ...own } = first
    Object.assign(columns, own)
  } else {
    // A value alone is that of conversions which another column counts.
    const value = headings.find(heading => conversionHeading(heading)?.holds === 'value')
    if (value) columns.value ??= value
  }
  const conversion = first && first.conversion !== ANY_CONVERSION ? first.conversion : 'purchase'
  return { conversion, further: others.filter(one => one.conversion !== conversion) }
}

/** Whether a column counts what others count together, in every row. */
function sumsUp(sheet: Sheet, whole: string, parts: readonly string[]): boolean {
  const at = [whole, ...parts].map(heading => sheet.header.indexOf(heading))
  return sheet.rows.every(row => {
    const [sum, ...own] = at.map(place => Number(readFigure(row[place] ?? '', '.', 3) ?? Number.NaN))
    return Math.abs(sum! - own.reduce((all, one) => all + one, 0)) < 1e-6
  })
}

/** Whether a column holds the last day of what another one holds the first of, in every row. */
function areEnds(sheet: Sheet, date: string | undefined, dateTo: string): boolean {
  const [from, to] = [date, dateTo].map(heading => sheet.header.indexOf(heading ?? ''))
  if (from === to || from! < 0) return false
  const { order } = guessDates([...samplesOf(sheet, date), ...samplesOf(sheet, dateTo)].filter(isDateLike))
  const read = spanReader(order)
  const spans = sheet.rows.flatMap(row => {
    const [first, last] = [read(row[from!] ?? ''), read(row[to!] ?? '')]
    return first && last ? [last.to - first.from] : []
  })
  // Longer ones are the days on which campaigns begin and end.
  return spans.length > 0 && spans.every(days => days >= 0 && days <= LONGEST_LINE)
}
/** Days that lines of reports usually sum at most. */
const LONGEST_LINE = 31

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
): { mapping: ReportMapping; doubts: ReportDoubt[] } {
  const { header } = sheet
  const columns: ReportMapping['columns'] = {}
  for (const field of fieldNames) {
    const settled = profile?.report_columns[field]
    if (settled && header.includes(settled)) columns[field] = settled
  }
  const taken = new Set(Object.values(columns))
  const counts: string[] = []
  for (const heading of header) {
    const field = taken.has(heading) ? null : fieldOf(heading, profile)
    if (typeof field === 'string') columns[field] ??= heading
    else if (field && isFigures(sheet, heading)) counts.push(heading)
  }
  const conversions = guessConversions(sheet, columns, counts)
  // The last lines of a report may be totals: a few cells that are no dates do not matter.
  const mostlyDates = (heading: string) => {
    const samples = samplesOf(sheet, heading)
    return samples.length > 0 && samples.filter(isDateLike).length >= samples.length * 0.7
  }
  if (!columns.date || !mostlyDates(columns.date)) {
    const dated = header.find(heading => heading !== columns.date_to && mostlyDates(heading))
    if (dated) columns.date = dated
  }
  if (columns.date_to && !areEnds(sheet, columns.date, columns.date_to)) delete columns.date_to
  const { forms, doubts } = guessForms(sheet, columns, own.currency)
  const time_zone = profile?.time_zone ?? own.time_zone
  return { mapping: { columns, ...forms, ...conversions, time_zone }, doubts }
}
