import { ask } from '@/server/compute/ask'
import { ReconcileScreen } from '@/ui/reconcile/ReconcileScreen'
import { NothingYet } from '@/ui/shell/NothingYet'
import { readAddress, type Search } from '../frame'
import { Station } from '../Station'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Reconcile' }

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const search = await searchParams
  const { workspace, period, scope, span, result } = await readAddress(search)
  return (
    <Station search={search}>
      {span ? (
        <ReconcileScreen
          view={await ask(workspace, 'reconcile', { period, scope }, result)}
          network={scope.network ?? null}
        />
      ) : (
        <NothingYet station="Reconcile" />
      )}
    </Station>
  )
}
