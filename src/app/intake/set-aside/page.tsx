import { JUDGED_RESULT } from '@/core/intake/settings'
import { sharedDatabase } from '@/data/connect'
import { countAside } from '@/data/intake'
import { listProfiles } from '@/data/workspace'
import { askForPage } from '@/server/compute/ask'
import { asideGroups } from '@/server/setAside'
import { rejectWords } from '@/server/words'
import { SetAsideScreen } from '@/ui/intake/SetAsideScreen'
import { Gathering } from '@/ui/shell/Gathering'
import { type Search, workspaceHere } from '../../frame'
import { Station } from '../../Station'
import { mend, placeSource } from '../actions'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Set aside' }

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const { id, settings } = await workspaceHere()
  const search = await searchParams
  const sources = await askForPage(id, 'unknownSources', null)
  if (!sources)
    return (
      <Station search={search}>
        <Gathering view="unknownSources" result={JUDGED_RESULT} />
      </Station>
    )
  return (
    <Station search={search}>
      <SetAsideScreen
        groups={await asideGroups(sharedDatabase(), id)}
        total={await countAside(sharedDatabase(), id)}
        sources={sources}
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
