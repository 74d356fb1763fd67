import { formatDay } from '@/core/shared/days'
import { sharedDatabase } from '@/data/connect'
import { listDefinitions } from '@/data/signals'
import { KEPT_DAYS } from '@/server/removal'
import { DataScreen } from '@/ui/settings/DataScreen'
import { readAddress, type Search } from '../../frame'
import { Station } from '../../Station'
import { previewRemovalHere, removeHere, undoRemovalHere } from '../actions'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Data' }

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const search = await searchParams
  const { workspace, period, scope } = await readAddress(search)
  const definitions = await listDefinitions(sharedDatabase(), workspace)
  return (
    <Station search={search}>
      <DataScreen
        period={{ from: formatDay(period.from), to: formatDay(period.to) }}
        network={scope.network ?? null}
        results={definitions.filter(d => !d.archived).map(({ id, name }) => ({ id, name }))}
        keptDays={KEPT_DAYS}
        actions={{ preview: previewRemovalHere, remove: removeHere, bringBack: undoRemovalHere }}
      />
    </Station>
  )
}
