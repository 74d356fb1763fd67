import { exchangeFiles, type FileKind, fileKinds } from './records'
import { guessMapping } from './reports/guess'
import { tellsClaims, tellsSpend } from './reports/mapping'
import { guessExport } from './shopExport/guess'

/** What a table seems to be: an exchange file, something of the shop's, or a network's report. */
export type WhichFile = FileKind | 'shop' | 'report'

const normal = (heading: string) =>
  heading
    .trim()
    .toLowerCase()
    .replace(/[\s-]+/g, '_')

/** The exchange file that has such headings; null for none of them. */
function exchangeFileOf(header: readonly string[]): FileKind | null {
  const columns = new Set(header.map(normal))
  const fits = fileKinds.map(kind => {
    const { required } = exchangeFiles[kind]
    const known = required.filter(column => columns.has(column)).length
    // Of two that fit alike the one that needs more: ads name what deliveries name too.
    return { kind, share: known / required.length, known }
  })
  const [best] = fits.sort((a, b) => b.share - a.share || b.known - a.known)
  return best?.share === 1 ? best.kind : null
}

/**
 * What a table of such headings and first rows is; null where it could be anything. An exchange file has all the
 * columns that it needs, under their own names.
 */
export function whichFile(sheet: { header: string[]; rows: string[][] }): WhichFile | null {
  const exchange = exchangeFileOf(sheet.header)
  if (exchange) return exchange
  const own = { currency: 'EUR', time_zone: 'UTC' }
  const isShops = (by: 'headings' | 'cells') => {
    const { columns, holds } = guessExport(sheet, own, by).mapping
    const { order_id, total, net, unit_price, refunded } = columns
    return (
      holds === 'customers' || (order_id !== undefined && Boolean(total ?? net ?? unit_price ?? refunded))
    )
  }
  if (isShops('headings')) return 'shop'
  const { mapping } = guessMapping(sheet, null, own)
  if (mapping.columns.date && (tellsSpend(mapping) || tellsClaims(mapping))) return 'report'
  // Cells alone tell an order from an ad only where nothing else is meant.
  return isShops('cells') ? 'shop' : null
}
