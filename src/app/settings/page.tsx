import { sharedDatabase } from '@/data/connect'
import { countIdle } from '@/data/removal'
import { productGroups } from '@/data/shopOrders'
import { listDefinitions } from '@/data/signals'
import { BusinessScreen } from '@/ui/settings/BusinessScreen'
import { type Search, workspaceHere } from '../frame'
import { Station } from '../Station'
import { settingsActions } from '../settings/settingsActions'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Settings' }

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const { id, name, settings } = await workspaceHere()
  const definitions = await listDefinitions(sharedDatabase(), id)
  return (
    <Station search={await searchParams}>
      <BusinessScreen
        name={name}
        settings={settings}
        results={definitions.filter(d => !d.archived && (d.margin ?? d.fee) !== undefined)}
        groups={await productGroups(sharedDatabase(), id)}
        idle={await countIdle(sharedDatabase(), id, new Date())}
        actions={settingsActions}
      />
    </Station>
  )
}
