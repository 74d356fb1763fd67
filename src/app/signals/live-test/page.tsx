import { sharedDatabase } from '@/data/connect'
import { hasPractice, practiceOrigin } from '@/server/practice'
import { describeTest } from '@/server/signals/liveTest'
import { siteHome } from '@/server/signals/rules'
import { LiveTestScreen } from '@/ui/signals/LiveTestScreen'
import { type Search, workspaceHere } from '../../frame'
import { Station } from '../../Station'
import { startLiveTest, stopLiveTest } from '../actions'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Live test' }

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const { id } = await workspaceHere()
  const site = hasPractice()
    ? `${practiceOrigin('shop.tarnbrook')}/kits`
    : await siteHome(sharedDatabase(), id)
  return (
    <Station search={await searchParams}>
      <LiveTestScreen
        given={await describeTest(sharedDatabase(), id)}
        site={site}
        actions={{ begin: startLiveTest, end: stopLiveTest }}
      />
    </Station>
  )
}
