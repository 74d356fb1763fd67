import { sharedDatabase } from '@/data/connect'
import { latestArrivals } from '@/server/arrivals'
import { IntakeScreen } from '@/ui/intake/IntakeScreen'
import { readAddress, type Search, workspaceHere } from '../frame'
import { Station } from '../Station'

export const dynamic = 'force-dynamic'

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const search = await searchParams
  const workspace = await workspaceHere()
  const { scope } = await readAddress(search)
  const network = scope.network ?? null
  return (
    <Station search={search}>
      <IntakeScreen
        key={network}
        first={await latestArrivals(sharedDatabase(), workspace, network)}
        version={workspace.version}
        network={network}
        zone={workspace.settings.time_zone}
      />
    </Station>
  )
}
