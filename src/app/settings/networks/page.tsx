import { sharedDatabase } from '@/data/connect'
import { knownNetworks } from '@/server/networks'
import { OwnNetworksScreen } from '@/ui/settings/OwnNetworksScreen'
import { type Search, workspaceHere } from '../../frame'
import { Station } from '../../Station'
import { beginNetwork, takeNetworkOut } from '../actions'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Own networks' }

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const { id } = await workspaceHere()
  return (
    <Station search={await searchParams}>
      <OwnNetworksScreen
        networks={await knownNetworks(sharedDatabase(), id)}
        begin={beginNetwork}
        takeOut={takeNetworkOut}
      />
    </Station>
  )
}
