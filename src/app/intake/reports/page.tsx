import { formatDay } from '@/core/shared/days'
import { sharedDatabase } from '@/data/connect'
import { listProfiles } from '@/data/workspace'
import { hasPractice } from '@/server/practice'
import { ReportsScreen } from '@/ui/intake/ReportsScreen'
import { readAddress, type Search } from '../../frame'
import { Station } from '../../Station'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Reports' }

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const search = await searchParams
  const { workspace, scope, period } = await readAddress(search)
  const profiles = await listProfiles(sharedDatabase(), workspace)
  return (
    <Station search={search}>
      <ReportsScreen
        networks={profiles.map(({ id, name }) => ({ id, name }))}
        first={scope.network ?? profiles.find(p => p.id === 'norrfeed')?.id ?? profiles[0]?.id ?? ''}
        period={{ from: formatDay(period.from), to: formatDay(period.to) }}
        asks={hasPractice()}
      />
    </Station>
  )
}
