import { entityKey } from '@/core/links/account'
import type { Database } from '@/data/connect'
import type { Workspace } from '@/data/workspace'
import { writeCsv } from '@/formats/csv'
import { linksOf, readStation } from './station'

/** Chosen ads, or all of chosen networks, as CSV: IDs, names, and a column for each field of their networks. */
export async function linksCsv(
  database: Database,
  workspace: Workspace,
  wanted: { ads: ReadonlySet<string>; networks: ReadonlySet<string> },
): Promise<string> {
  const station = await readStation(database, workspace)
  const { entities, names } = station
  const linkOf = linksOf(station)
  const rows = entities.flatMap(ad => {
    const { network } = ad
    const asked = wanted.ads.has(`${network}/${ad.id}`) || wanted.networks.has(network)
    const made = ad.level === 'ad' && asked ? linkOf(ad) : null
    if (!made) return []
    return [
      {
        network,
        campaign_id: ad.campaignId,
        campaign_name: names[entityKey(network, 'campaign', ad.campaignId)] ?? '',
        ad_set_id: ad.adSetId,
        ad_set_name: names[entityKey(network, 'ad_set', ad.adSetId)] ?? '',
        ad_id: ad.id,
        ad_name: ad.name,
        ...made.link.fields,
      },
    ]
  })
  const columns = ['network', 'campaign_id', 'campaign_name', 'ad_set_id', 'ad_set_name', 'ad_id', 'ad_name']
  return writeCsv([...new Set([...columns, ...rows.flatMap(row => Object.keys(row))])], rows)
}
