import type { Database } from '@/data/connect'
import { listEntities } from '@/data/workspace'
import { putOnPractice } from '@/server/links'
import { describePartners } from '@/server/partners'
import { askPractice } from '@/server/practice'
import { trackingOrigin } from '@/server/routes'
import { WORKSPACE } from '@/server/workspace'

/** The ad that leads over a landing page to the offer of a partner. */
const courseAd = {
  campaign: { id: 'nc900', name: 'Weaving course' },
  ad_set: { id: 'ns901', name: 'Kit owners' },
  ad: { id: 'na902', name: 'Learn at home' },
  parameters: 'utm_source=norrfeed&utm_campaign=[[campaign_title]]&utm_content=[[ad_ref]]&spot=[[spot]]',
}

/** Pastes into the practice networks' own forms what a marketer would: ads' addresses, and the postback's. */
export async function furnishPractice(database: Database): Promise<void> {
  const ads = (await listEntities(database, WORKSPACE)).filter(
    e => e.network === 'norrfeed' && e.level === 'ad',
  )
  await putOnPractice(
    database,
    WORKSPACE,
    ads.map(a => a.id),
  )
  const course = { ...courseAd, destination: `${trackingOrigin()}/c/course` }
  await askPractice('norrfeed', '/ads', { type: 'application/json', body: JSON.stringify([course]) })
  const partner = (await describePartners(database, WORKSPACE)).find(p => p.partner.id === 'corvane')
  if (partner)
    await askPractice('corvane', '/postback', {
      type: 'application/x-www-form-urlencoded',
      body: new URLSearchParams({ address: partner.postback }).toString(),
    })
}
