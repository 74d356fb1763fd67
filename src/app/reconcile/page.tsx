import { askForPage } from '@/server/compute/ask'
import { ReconcileScreen } from '@/ui/reconcile/ReconcileScreen'
import { Gathering } from '@/ui/shell/Gathering'
import { NothingYet } from '@/ui/shell/NothingYet'
import { readAddress, type Search } from '../frame'
import { Station } from '../Station'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Reconcile' }

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const search = await searchParams
  const { workspace, period, before, scope, span, result } = await readAddress(search)
  const view = span && (await askForPage(workspace, 'reconcile', { period, scope }, result))
  const beside =
    view && before && (await askForPage(workspace, 'reconcile', { period: before, scope }, result))
  return (
    <Station search={search}>
      {!span && <NothingYet station="Reconcile" />}
      {span && !view && <Gathering view="reconcile" result={result} />}
      {view && <ReconcileScreen view={view} before={beside} network={scope.network ?? null} />}
    </Station>
  )
}
