import { sharedDatabase } from '@/data/connect'
import { listDecisions } from '@/data/decisions'
import { askForPage } from '@/server/compute/ask'
import { BenchScreen } from '@/ui/reconcile/BenchScreen'
import { Gathering } from '@/ui/shell/Gathering'
import { NothingYet } from '@/ui/shell/NothingYet'
import { readAddress, type Search } from '../../frame'
import { Station } from '../../Station'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Matching bench' }

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const search = await searchParams
  const { workspace, period, scope, span, result } = await readAddress(search)
  const view = span && (await askForPage(workspace, 'bench', { period, scope }, result))
  const decisions = await listDecisions(sharedDatabase(), workspace)
  return (
    <Station search={search}>
      {!span && <NothingYet station="Reconcile" />}
      {span && !view && <Gathering view="bench" result={result} />}
      {view && (
        <BenchScreen view={view} decisions={decisions.filter(one => one.about === 'claim').reverse()} />
      )}
    </Station>
  )
}
