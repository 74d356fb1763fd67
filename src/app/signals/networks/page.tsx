import { sharedDatabase } from '@/data/connect'
import { describeNetworks } from '@/server/signals/networks'
import { NetworksScreen } from '@/ui/signals/NetworksScreen'
import { type Search, workspaceHere } from '../../frame'
import { Station } from '../../Station'
import { saveNetwork, sendAgain } from '../actions'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Networks' }

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const { id } = await workspaceHere()
  return (
    <Station search={await searchParams}>
      <NetworksScreen
        {...(await describeNetworks(sharedDatabase(), id))}
        now={Date.now()}
        actions={{ save: saveNetwork, again: sendAgain }}
      />
    </Station>
  )
}
