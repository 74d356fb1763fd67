import { sharedDatabase } from '@/data/connect'
import { listEntities } from '@/data/workspace'
import { describeLink } from '@/server/links'
import { LinksScreen } from '@/ui/links/LinksScreen'
import { NothingYet } from '@/ui/shell/NothingYet'
import { changePlan, putAdOnPractice } from '../actions'
import { readAddress, type Search } from '../frame'
import { Station } from '../Station'

export const dynamic = 'force-dynamic'

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const search = await searchParams
  const { workspace, scope } = await readAddress(search)
  const entities = await listEntities(sharedDatabase(), workspace)
  const nameOf = new Map(entities.map(e => [`${e.network}/${e.level}/${e.id}`, e.name]))
  const ads = entities
    .filter(e => e.level === 'ad' && (!scope.network || e.network === scope.network))
    .map(({ network, id, name, campaignId, adSetId }) => ({
      network,
      id,
      name,
      campaignId,
      campaign: nameOf.get(`${network}/campaign/${campaignId}`) ?? campaignId,
      adSetId,
      adSet: nameOf.get(`${network}/ad_set/${adSetId}`) ?? adSetId,
    }))
    .sort((a, b) =>
      (rank(a.network) + a.campaign + a.campaignId + a.adSet + a.adSetId + a.name).localeCompare(
        rank(b.network) + b.campaign + b.campaignId + b.adSet + b.adSetId + b.name,
      ),
    )
  const asked = typeof search.ad === 'string' ? search.ad : ads[0] && `${ads[0].network}/${ads[0].id}`
  const [network, ...id] = (asked ?? '').split('/')
  const described = network ? await describeLink(sharedDatabase(), workspace, network, id.join('/')) : null
  return (
    <Station search={search}>
      {ads.length > 0 ? (
        <LinksScreen
          ads={ads}
          described={described}
          chosen={asked ?? null}
          actions={{ changePlan, putOnPractice: putAdOnPractice }}
        />
      ) : (
        <NothingYet station="Links" />
      )}
    </Station>
  )
}

/** Networks in the order of their names. */
const rank = (network: string) => `${network}\u0000`
