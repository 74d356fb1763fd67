import { whichFile } from '@/core/intake/whichFile'
import type { Database } from '@/data/connect'
import type { Workspace } from '@/data/workspace'
import { readSheet } from '@/formats/sheet'
import { knownNetworks } from '../networks'
import { whoseReport } from './whoseReport'

const SAMPLE_ROWS = 200

/**
 * Where a file belongs, by its headings, first rows and name. A report is a network's whose name the file bears, whose
 * campaigns it names, or whose last one had the very same columns.
 */
export async function placeOfFile(
  database: Database,
  { id, settings }: Workspace,
  content: string,
  file: string,
) {
  const { header, lines } = readSheet(content, file)
  const sheet = { header, rows: lines.slice(0, SAMPLE_ROWS).map(line => [...line.cells]) }
  const which = whichFile(sheet)
  if (which === null) return { place: null }
  if (which === 'shop') return { place: { to: 'shop' as const } }
  if (which !== 'report') return { place: { to: 'import' as const, kind: which } }
  const networks = await knownNetworks(database, id)
  const named = networks.filter(n => file.toLowerCase().includes(n.name.toLowerCase()))
  const told = named.length === 1 ? named[0]!.id : await whoseReport(database, id, sheet, settings)
  const network = networks.some(n => n.id === told) ? told : null
  return { place: { to: 'report' as const, network } }
}
