import { reportMappingSchema } from '@/core/intake/reports/mapping'
import { whichFile } from '@/core/intake/whichFile'
import type { Database } from '@/data/connect'
import { listMappings } from '@/data/reports'
import type { Workspace } from '@/data/workspace'
import { readSheet } from '@/formats/sheet'
import { knownNetworks } from '../networks'

const SAMPLE_ROWS = 200

/**
 * Where a file belongs, by its headings, first rows and name. A report is a network's whose last one had the very
 * same columns, or whose name the file bears.
 */
export async function placeOfFile(database: Database, { id }: Workspace, content: string, file: string) {
  const { header, lines } = readSheet(content, file)
  const which = whichFile({ header, rows: lines.slice(0, SAMPLE_ROWS).map(line => [...line.cells]) })
  if (which === null) return { place: null }
  if (which === 'shop') return { place: { to: 'shop' as const } }
  if (which !== 'report') return { place: { to: 'import' as const, kind: which } }
  const networks = await knownNetworks(database, id)
  const named = networks.filter(n => file.toLowerCase().includes(n.name.toLowerCase()))
  const alike = (await listMappings(database, id)).filter(({ of, mapping }) => {
    const read = reportMappingSchema.safeParse(mapping)
    return (
      networks.some(n => n.id === of) &&
      read.success &&
      Object.values(read.data.columns).every(column => header.includes(column))
    )
  })
  const network = named.length === 1 ? named[0]!.id : alike.length === 1 ? alike[0]!.of : null
  return { place: { to: 'report' as const, network } }
}
