import { sharedDatabase } from '@/data/connect'
import { countAside } from '@/data/intake'
import { listProfiles } from '@/data/workspace'
import { ask } from '@/server/compute/ask'
import { asideGroups } from '@/server/setAside'
import { rejectWords } from '@/server/words'
import { SetAsideScreen } from '@/ui/intake/SetAsideScreen'
import { type Search, workspaceHere } from '../../frame'
import { Station } from '../../Station'
import { mend, placeSource } from '../actions'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Set aside' }

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const { id, settings } = await workspaceHere()
  return (
    <Station search={await searchParams}>
      <SetAsideScreen
        groups={await asideGroups(sharedDatabase(), id)}
        total={await countAside(sharedDatabase(), id)}
        sources={await ask(id, 'unknownSources', null)}
        networks={(await listProfiles(sharedDatabase(), id)).map(p => p.id)}
        placeSource={placeSource}
        zone={settings.time_zone}
        currency={settings.currency}
        words={rejectWords}
        mend={mend}
      />
    </Station>
  )
}
