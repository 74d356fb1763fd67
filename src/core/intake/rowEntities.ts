import type { Level } from './tree'

/** A campaign, ad set or ad that a row of a file names. */
export interface RowEntity {
  network: string
  level: Level
  id: string
  campaign_id: string
  ad_set_id: string
  name: string | null
}

/** The campaign, ad set and ad that a row of a file names. */
export function entitiesOfRow(row: {
  network: string
  campaign_id: string
  campaign_name?: string | null
  ad_set_id?: string | null
  ad_set_name?: string | null
  ad_id?: string | null
  ad_name?: string | null
}): RowEntity[] {
  const [ad_set_id, ad_id] = [row.ad_set_id ?? '', row.ad_id ?? '']
  const ids = { network: row.network, campaign_id: row.campaign_id }
  return [
    {
      ...ids,
      level: 'campaign' as const,
      id: row.campaign_id,
      ad_set_id: '',
      name: row.campaign_name || null,
    },
    { ...ids, level: 'ad_set' as const, id: ad_set_id, ad_set_id, name: row.ad_set_name || null },
    { ...ids, level: 'ad' as const, id: ad_id, ad_set_id, name: row.ad_name || null },
  ].filter(entity => entity.id !== '')
}
