import { formatDay } from '@/core/shared/days'
import { sharedDatabase } from '@/data/connect'
import { knownNetworks } from '@/server/networks'
import { isPractised } from '@/server/practice'
import { ReportsScreen } from '@/ui/intake/ReportsScreen'
import { readAddress, type Search } from '../../frame'
import { Station } from '../../Station'
import { beginNetwork, giveRatesHere } from '../../settings/actions'
import { takeImportBack } from '../actions'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Reports' }

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const search = await searchParams
  const { workspace, scope, period } = await readAddress(search)
  const networks = (await knownNetworks(sharedDatabase(), workspace)).map(({ id, name }) => ({ id, name }))
  return (
    <Station search={search}>
      <ReportsScreen
        networks={networks}
        first={scope.network ?? (networks.length === 1 ? networks[0]!.id : '')}
        period={{ from: formatDay(period.from), to: formatDay(period.to) }}
        practised={networks.map(n => n.id).filter(isPractised)}
        begin={beginNetwork}
        giveRates={giveRatesHere}
        undo={takeImportBack}
      />
    </Station>
  )
}
