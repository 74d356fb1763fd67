import { parsePeriod } from '@/core/shared/days'
import { daysBefore } from '@/core/shared/periods'
import { changesBetween } from '@/data/changeLog'
import { sharedDatabase } from '@/data/connect'
import { askForPage } from '@/server/compute/ask'
import { ChangedScreen } from '@/ui/reconcile/ChangedScreen'
import { Gathering } from '@/ui/shell/Gathering'
import { NothingYet } from '@/ui/shell/NothingYet'
import { readAddress, type Search } from '../../frame'
import { Station } from '../../Station'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'What changed' }

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const search = await searchParams
  const { workspace, period, scope, span, result } = await readAddress(search)
  const first = parsePeriod(typeof search.first === 'string' ? search.first : '') ?? daysBefore(period)
  const view = span && (await askForPage(workspace, 'changed', { period, first, scope }, result))
  const between = { from: Math.min(first.from, period.from), to: Math.max(first.to, period.to) }
  const marks = await changesBetween(sharedDatabase(), workspace, between)
  return (
    <Station search={search}>
      {!span && <NothingYet station="Reconcile" />}
      {span && !view && <Gathering view="changed" result={result} />}
      {span && view && (
        <ChangedScreen
          marks={marks}
          view={view}
          span={span}
          network={scope.network ?? null}
          result={result}
        />
      )}
    </Station>
  )
}
