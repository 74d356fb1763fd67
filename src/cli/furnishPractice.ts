import type { Database } from '@/data/connect'
import { findWorkspace, listEntities } from '@/data/workspace'
import { putOnPractice } from '@/server/links/changes'
import { describePartners } from '@/server/partners'
import { askPractice, practiceOrigin } from '@/server/practice'
import { trackingOrigin } from '@/server/routes'
import { installOnPractice } from '@/server/signals/handOff'
import { WORKSPACE } from '@/server/workspace'
import { isPassing } from './agencyAds'

/** The ad that leads over a landing page to the offer of a partner. */
const courseAd = {
  campaign: { id: 'nc900', name: 'Weaving course' },
  ad_set: { id: 'ns901', name: 'Kit owners' },
  ad: { id: 'na902', name: 'Learn at home' },
  parameters: 'utm_source=norrfeed&utm_campaign=[[campaign_title]]&utm_content=[[ad_ref]]&spot=[[spot]]',
}

/** One ad each at the smaller networks, as their reports name it. */
const smallAds: Record<string, (tracking: string) => object> = {
  guildpost: tracking => ({
    campaign: { id: 'gc100', name: 'Makers' },
    ad_set: { id: 'gs101', name: 'Weaving schools' },
    ad: { id: 'ga102', name: 'Looms for schools' },
    destination: `${tracking}/c/guild`,
    parameters: 'utm_source=guildpost&utm_campaign=makers&utm_content=looms-for-schools',
  }),
  whyfold: tracking => ({
    campaign: { id: 'wc100', name: 'First looms' },
    ad_set: { id: 'ws101', name: 'How to weave' },
    ad: { id: 'wa102', name: 'Which loom first?' },
    destination: `${tracking}/c/why`,
    parameters: 'utm_source=whyfold&utm_campaign=~campaign~&utm_term=~set~&utm_content=~ad~&topic=~topic~',
  }),
}

/** Pastes into the practice networks' own forms what a marketer would: ads' addresses, and the postback's. */
export async function furnishPractice(database: Database): Promise<void> {
  const workspace = (await findWorkspace(database, WORKSPACE))!
  // What leads elsewhere than to the practice shop nobody can click there.
  const shop = practiceOrigin('shop.tarnbrook')
  const ads = (await listEntities(database, WORKSPACE)).filter(
    e => e.level === 'ad' && e.landingPage?.startsWith(shop) && !isPassing(e),
  )
  for (const network of new Set(ads.map(a => a.network)))
    await putOnPractice(
      database,
      workspace,
      network,
      ads.filter(a => a.network === network).map(a => a.id),
    )
  await installOnPractice(database, WORKSPACE)
  for (const [network, ad] of Object.entries(smallAds))
    await askPractice(network, '/ads', {
      type: 'application/json',
      body: JSON.stringify([ad(trackingOrigin())]),
    })
  const course = { ...courseAd, destination: `${trackingOrigin()}/c/course` }
  await askPractice('norrfeed', '/ads', { type: 'application/json', body: JSON.stringify([course]) })
  const partner = (await describePartners(database, WORKSPACE)).find(p => p.partner.id === 'corvane')
  if (partner)
    await askPractice('corvane', '/postback', {
      type: 'application/x-www-form-urlencoded',
      body: new URLSearchParams({ address: partner.postback }).toString(),
    })
}
