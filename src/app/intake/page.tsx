import { arrivalFilterSchema } from '@/core/intake/arrivalFilter'
import { listResults } from '@/data/arrivals'
import { sharedDatabase } from '@/data/connect'
import { listCampaigns } from '@/data/workspace'
import { arrivalsByMinute, latestArrivals } from '@/server/arrivals/latest'
import { IntakeScreen } from '@/ui/intake/IntakeScreen'
import { type Search, workspaceHere } from '../frame'
import { Station } from '../Station'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Intake' }

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const search = await searchParams
  const workspace = await workspaceHere()
  const filter = arrivalFilterSchema.parse(search)
  const first = await latestArrivals(sharedDatabase(), workspace, filter)
  const campaigns = (await listCampaigns(sharedDatabase(), workspace.id)).filter(
    c => !filter.network || c.network === filter.network,
  )
  return (
    <Station search={search}>
      <IntakeScreen
        key={JSON.stringify(filter)}
        first={first}
        minutes={await arrivalsByMinute(sharedDatabase(), workspace.id, first[0]?.at, Date.now())}
        version={workspace.feed}
        filter={filter}
        choices={{ campaigns, results: await listResults(sharedDatabase(), workspace.id) }}
      />
    </Station>
  )
}
