import { existsSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import Papa from 'papaparse'

type Row = Record<string, string>
type Write = (row: Row) => string | number

interface ReportStyle {
  delimiter: ',' | ';' | '\t'
  /** lines above the headings */
  above: string[]
  columns: Record<string, Write>
  /** whether a line of totals ends the report */
  totals: boolean
}

const comma = (amount: string) => amount.replace('.', ',')
const dayFirst = (date: string) => date.split('-').reverse().join('.')
const monthFirst = (date: string) => date.replace(/^(\d+)-(\d+)-(\d+)$/, '$2/$3/$1')
const figure = (row: Row, key: string) => Number(row[key] ?? 0)

/** How each practice network writes its report; no two are alike. */
const styles: Record<string, ReportStyle> = {
  norrfeed: {
    delimiter: ',',
    above: [],
    totals: false,
    columns: {
      Day: r => r.date!,
      'Campaign title': r => r.campaign_name!,
      'Campaign ref': r => r.campaign_id!,
      'Ad set title': r => r.ad_set_name!,
      'Ad set ref': r => r.ad_set_id!,
      'Ad title': r => r.ad_name!,
      'Ad ref': r => r.ad_id!,
      'Times shown': r => figure(r, 'impressions'),
      Taps: r => figure(r, 'clicks'),
      'Spent (EUR)': r => r.spend!,
      Purchases: r => figure(r, 'click_through'),
      'Purchases after a view': r => figure(r, 'view_through'),
      'Purchase value (EUR)': r => r.value ?? '0.00',
    },
  },
  kelpie: {
    delimiter: ';',
    above: ['Kelpie report for Tarnbrook Looms', ''],
    totals: true,
    columns: {
      Date: r => dayFirst(r.date!),
      Campaign: r => r.campaign_name!,
      'Campaign no.': r => r.campaign_id!,
      'Ad group': r => r.ad_set_name!,
      'Ad group no.': r => r.ad_set_id!,
      Ad: r => r.ad_name!,
      'Ad no.': r => r.ad_id!,
      'Impr.': r => figure(r, 'impressions'),
      Clicks: r => figure(r, 'clicks'),
      CTR: r =>
        `${comma(((100 * figure(r, 'clicks')) / Math.max(1, figure(r, 'impressions'))).toFixed(2))} %`,
      'Cost (EUR)': r => comma(r.spend!),
      Conversions: r => comma(figure(r, 'click_through').toFixed(2)),
      'Conversion value': r => comma(r.value ?? '0.00'),
    },
  },
  mothwire: {
    delimiter: '\t',
    above: [],
    totals: false,
    columns: {
      date: r => monthFirst(r.date!),
      campaign: r => r.campaign_name!,
      'campaign id': r => r.campaign_id!,
      line: r => r.ad_set_name!,
      'line id': r => r.ad_set_id!,
      post: r => r.ad_name!,
      'post id': r => r.ad_id!,
      shown: r => figure(r, 'impressions'),
      clicks: r => figure(r, 'clicks'),
      charged: r => `€${r.spend}`,
      'sales after a click': r => figure(r, 'click_through'),
      'sales after a view': r => figure(r, 'view_through'),
      'value of sales': r => `€${r.value ?? '0.00'}`,
    },
  },
}

/** Networks take invalid clicks off the bill afterwards, for as many days. */
const RESTATED_DAYS = 3
const restate = (row: Row): Row => ({
  ...row,
  clicks: String(Math.floor(figure(row, 'clicks') * 0.98)),
  spend: (Math.floor(figure(row, 'spend') * 98) / 100).toFixed(2),
})

/** Reads what the seeded market says that the networks served and claim. */
const readMarket = (folder: string, file: string): Row[] => {
  const path = join(folder, 'market', file)
  return existsSync(path)
    ? Papa.parse<Row>(readFileSync(path, 'utf8'), { header: true, skipEmptyLines: true }).data
    : []
}

/**
 * One network's report of some days, as it would let a customer download it.
 *
 * @param folder the practice ground's own folder
 * @returns null for a network that reports nothing
 */
export function writeReport(folder: string, network: string, from: string, to: string): string | null {
  const style = styles[network]
  if (!style) return null
  const own = (row: Row) => row.network === network
  const delivery = readMarket(folder, 'delivery.csv').filter(own)
  const claims = new Map(
    readMarket(folder, 'claims.csv')
      .filter(own)
      .map(claim => [`${claim.date} ${claim.ad_id}`, claim]),
  )
  const last = Date.parse(delivery.at(-1)?.date ?? '')
  const rows = delivery
    .filter(row => row.date! >= from && row.date! <= to)
    .map(row => {
      const fresh = last - Date.parse(row.date!) < RESTATED_DAYS * 86_400_000
      return { ...claims.get(`${row.date} ${row.ad_id}`), ...(fresh ? restate(row) : row) }
    })
  const fields = Object.keys(style.columns)
  const data = rows.map(row => fields.map(field => style.columns[field]!(row)))
  const total = ['Total', ...fields.slice(1).map(() => '')]
  const table = Papa.unparse(
    { fields, data: style.totals ? [...data, total] : data },
    { delimiter: style.delimiter },
  )
  return [...style.above, table].join('\r\n')
}
