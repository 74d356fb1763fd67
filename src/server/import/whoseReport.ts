import { guessMapping, type Sheet } from '@/core/intake/reports/guess'
import { reportMappingSchema } from '@/core/intake/reports/mapping'
import type { Database } from '@/data/connect'
import { listMappings } from '@/data/reports'
import { listEntities } from '@/data/workspace'

/** So many of a report's campaigns are known at a network whose report it is. */
const MOST = 0.5

/**
 * The network whose campaigns a report names, or whose last report alone had its columns; null where neither says one.
 *
 * @param of the network that somebody says it is of: where its own campaigns or columns speak for it, it is that
 */
export async function whoseReport(
  database: Database,
  workspace: string,
  sheet: Sheet,
  own: { currency: string; time_zone: string },
  of: string | null = null,
): Promise<string | null> {
  const { columns } = guessMapping(sheet, null, own).mapping
  const at = [columns.campaign_id, columns.campaign_name].map(heading => sheet.header.indexOf(heading ?? ''))
  const named = new Set(
    sheet.rows
      .flatMap(row => at.flatMap(place => (place < 0 ? [] : (row[place]?.trim() ?? ''))))
      .filter(Boolean),
  )
  const known = new Map<string, Set<string>>()
  for (const { network, level, id, name } of await listEntities(database, workspace))
    for (const one of level === 'campaign' ? [id, name] : [])
      if (named.has(one)) known.set(network, (known.get(network) ?? new Set()).add(one))
  const rows = (network: string) => {
    const own = known.get(network) ?? new Set()
    return sheet.rows.filter(row => at.some(place => place >= 0 && own.has(row[place]?.trim() ?? ''))).length
  }
  const byCampaign = [...known.keys()].filter(network => rows(network) >= sheet.rows.length * MOST)
  if (of !== null && (byCampaign.includes(of) || known.has(of))) return of
  if (byCampaign.length === 1) return byCampaign[0]!
  const saved = await listMappings(database, workspace)
  // Several networks write the same few headings: only one's own last report says that they are not its.
  if (of !== null && !saved.some(one => one.of === of)) return null
  const alike = saved.filter(({ mapping }) => {
    const read = reportMappingSchema.safeParse(mapping)
    return read.success && Object.values(read.data.columns).every(column => sheet.header.includes(column))
  })
  if (of !== null && alike.some(one => one.of === of)) return of
  return alike.length === 1 ? alike[0]!.of : null
}
