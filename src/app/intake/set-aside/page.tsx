import { Suspense } from 'react'
import { listApart } from '@/data/apart'
import { sharedDatabase } from '@/data/connect'
import { countAside } from '@/data/intake'
import { listProfiles } from '@/data/workspace'
import { ask } from '@/server/compute/ask'
import { asideGroups } from '@/server/setAside'
import { rejectWords } from '@/server/words'
import { ApartPart } from '@/ui/intake/ApartPart'
import { SetAsideScreen, Sources } from '@/ui/intake/SetAsideScreen'
import { Note } from '@/ui/parts/Page'
import { type Search, workspaceHere } from '../../frame'
import { Station } from '../../Station'
import { decideApartHere, mend, placeSource } from '../actions'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Set aside' }

const MOST_APART = 200

/** Worked out beside the page: they need evidence, and what is set aside does not. */
async function SourcesOf({ workspace }: { workspace: string }) {
  const [sources, profiles] = await Promise.all([
    ask(workspace, 'unknownSources', null),
    listProfiles(sharedDatabase(), workspace),
  ])
  return <Sources sources={sources} networks={profiles.map(p => p.id)} placeSource={placeSource} />
}

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const { id } = await workspaceHere()
  return (
    <Station search={await searchParams}>
      <SetAsideScreen
        groups={await asideGroups(sharedDatabase(), id)}
        apart={
          <ApartPart groups={await listApart(sharedDatabase(), id, MOST_APART)} decide={decideApartHere} />
        }
        total={await countAside(sharedDatabase(), id)}
        sources={
          // A boundary of its own each time: a page that is shown already would wait for them before it changed.
          <Suspense key={Date.now()} fallback={<Note>Looking for sources that nobody knows …</Note>}>
            <SourcesOf workspace={id} />
          </Suspense>
        }
        words={rejectWords}
        mend={mend}
      />
    </Station>
  )
}
