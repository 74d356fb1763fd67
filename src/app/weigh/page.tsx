import { dimensionsOf } from '@/core/weigh/byPart'
import { segmentOfPart } from '@/core/weigh/segments'
import { sharedDatabase } from '@/data/connect'
import { listJourneys } from '@/data/journeys'
import { listNamingRules } from '@/data/namingRules'
import { askForPage } from '@/server/compute/ask'
import { Gathering } from '@/ui/shell/Gathering'
import { NothingYet } from '@/ui/shell/NothingYet'
import { WeighScreen } from '@/ui/weigh/WeighScreen'
import { besideRecords } from '../api/weighQuestion'
import { readAddress, type Search, SHARED_SPEND } from '../frame'
import { Station } from '../Station'
import { settingsActions } from '../settings/settingsActions'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Weigh' }

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const search = await searchParams
  const { workspace, settings, period, before, scope, span, result } = await readAddress(search)
  const dimensions = dimensionsOf(await listNamingRules(sharedDatabase(), workspace))
  const asked = typeof search.by === 'string' ? search.by : undefined
  const by = dimensions.some(d => d.id === asked) || segmentOfPart(asked) ? asked : undefined
  const question = { scope, by, shared: search.spend === SHARED_SPEND, ...(await besideRecords(workspace)) }
  const journeys = await listJourneys(sharedDatabase(), workspace)
  const view = span && (await askForPage(workspace, 'weigh', { period, ...question }, result))
  const beside =
    view && before && (await askForPage(workspace, 'weigh', { period: before, ...question }, result))
  return (
    <Station search={search}>
      {!span && <NothingYet station="Weigh" />}
      {span && !view && <Gathering view="weigh" result={result} />}
      {view && (
        <WeighScreen
          view={view}
          before={beside}
          dimensions={dimensions}
          network={scope.network ?? null}
          journeys={journeys.map(({ id, name }) => ({ id, name }))}
          settings={settings}
          actions={settingsActions}
        />
      )}
    </Station>
  )
}
