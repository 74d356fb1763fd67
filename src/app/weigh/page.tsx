import { ask } from '@/server/compute/ask'
import { NothingYet } from '@/ui/shell/NothingYet'
import { WeighScreen } from '@/ui/weigh/WeighScreen'
import { readAddress, type Search } from '../frame'
import { Station } from '../Station'

export const dynamic = 'force-dynamic'

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const search = await searchParams
  const { workspace, period, scope, span } = await readAddress(search)
  return (
    <Station search={search}>
      {span ? (
        <WeighScreen
          view={await ask(workspace, 'weigh', { period, scope })}
          network={scope.network ?? null}
        />
      ) : (
        <NothingYet station="Weigh" />
      )}
    </Station>
  )
}
