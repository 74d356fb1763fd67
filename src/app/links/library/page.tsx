import { hostsOf } from '@/core/links/hops'
import { formatDay } from '@/core/shared/days'
import { sharedDatabase } from '@/data/connect'
import { findAd } from '@/data/entities'
import { listLandingPages } from '@/data/links'
import { readLibrary } from '@/server/links/library'
import { trackingOrigin } from '@/server/routes'
import { LibraryScreen } from '@/ui/links/LibraryScreen'
import { readAddress, type Search, workspaceHere } from '../../frame'
import { Station } from '../../Station'
import { bringLibraryLinkBack, listHosts, saveLibraryLink } from '../actions'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Library' }

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const search = await searchParams
  const { period, scope } = await readAddress(search)
  const workspace = await workspaceHere()
  const links = await readLibrary(sharedDatabase(), workspace, period)
  const [network, ...id] = typeof search.ad === 'string' ? search.ad.split('/') : []
  return (
    <Station search={search}>
      <LibraryScreen
        links={links.filter(({ link }) => !scope.network || link.network === scope.network)}
        elsewhere={scope.network ? links.filter(({ link }) => link.network !== scope.network).length : 0}
        period={{ from: formatDay(period.from), to: formatDay(period.to) }}
        origin={trackingOrigin()}
        hosts={
          workspace.settings.hosts.length > 0
            ? []
            : hostsOf((await listLandingPages(sharedDatabase(), workspace.id)).map(({ page }) => page))
        }
        opened={typeof search.code === 'string' ? search.code : null}
        asked={network ? await findAd(sharedDatabase(), workspace.id, network, id.join('/')) : null}
        actions={{ save: saveLibraryLink, bringBack: bringLibraryLinkBack, listHosts }}
      />
    </Station>
  )
}
