import { sharedDatabase } from '@/data/connect'
import { asideGroups } from '@/server/setAside'
import { SetAsideScreen } from '@/ui/intake/SetAsideScreen'
import { type Search, workspaceHere } from '../../frame'
import { Station } from '../../Station'
import { mend } from '../actions'

export const dynamic = 'force-dynamic'

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const { id, settings } = await workspaceHere()
  return (
    <Station search={await searchParams}>
      <SetAsideScreen
        groups={await asideGroups(sharedDatabase(), id)}
        zone={settings.time_zone}
        currency={settings.currency}
        mend={mend}
      />
    </Station>
  )
}
