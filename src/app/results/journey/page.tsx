import { JUDGED_RESULT } from '@/core/intake/judgedResult'
import { sharedDatabase } from '@/data/connect'
import { listJourneys } from '@/data/journeys'
import { listDefinitions } from '@/data/signals'
import { askForPage } from '@/server/compute/ask'
import { JourneyScreen } from '@/ui/results/JourneyScreen'
import { Gathering } from '@/ui/shell/Gathering'
import { readAddress, type Search, workspaceHere } from '../../frame'
import { Station } from '../../Station'
import { dropJourney, keepJourney } from '../actions'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Journey' }

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const search = await searchParams
  const [{ id }, { period, scope }] = [await workspaceHere(), await readAddress(search)]
  const journeys = await listJourneys(sharedDatabase(), id)
  const chosen = journeys.find(j => j.id === search.journey) ?? journeys[0] ?? null
  const walked = chosen && (await askForPage(id, 'journey', { period, scope, journey: chosen }))
  if (chosen && !walked)
    return (
      <Station search={search}>
        <Gathering view="journey" result={JUDGED_RESULT} />
      </Station>
    )
  return (
    <Station search={search}>
      <JourneyScreen
        key={chosen?.id}
        missing={typeof search.journey === 'string' && search.journey !== chosen?.id ? search.journey : null}
        journeys={journeys.map(j => ({ id: j.id, name: j.name }))}
        chosen={chosen}
        walked={walked}
        results={(await listDefinitions(sharedDatabase(), id))
          .filter(d => !d.archived)
          .map(d => ({ id: d.id, name: d.name }))}
        actions={{ keep: keepJourney, drop: dropJourney }}
      />
    </Station>
  )
}
