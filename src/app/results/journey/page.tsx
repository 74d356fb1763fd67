import { sharedDatabase } from '@/data/connect'
import { listJourneys } from '@/data/journeys'
import { listDefinitions } from '@/data/signals'
import { ask } from '@/server/compute/ask'
import { JourneyScreen } from '@/ui/results/JourneyScreen'
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
  return (
    <Station search={search}>
      <JourneyScreen
        key={chosen?.id}
        missing={typeof search.journey === 'string' && search.journey !== chosen?.id ? search.journey : null}
        journeys={journeys.map(j => ({ id: j.id, name: j.name }))}
        chosen={chosen}
        walked={chosen && (await ask(id, 'journey', { period, scope, journey: chosen }))}
        results={(await listDefinitions(sharedDatabase(), id))
          .filter(d => !d.archived)
          .map(d => ({ id: d.id, name: d.name }))}
        actions={{ keep: keepJourney, drop: dropJourney }}
      />
    </Station>
  )
}
