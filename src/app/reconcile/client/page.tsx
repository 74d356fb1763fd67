import { isLocale } from '@/core/shared/days'
import { daysBefore } from '@/core/shared/periods'
import { askForPage } from '@/server/compute/ask'
import { ClientScreen } from '@/ui/reconcile/ClientScreen'
import { Gathering } from '@/ui/shell/Gathering'
import { NothingYet } from '@/ui/shell/NothingYet'
import { buildFrame, readAddress, type Search, workspaceHere } from '../../frame'
import { Station } from '../../Station'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Client’s page' }

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const search = await searchParams
  const { name } = await workspaceHere()
  const { workspace, period, scope, span, result } = await readAddress(search)
  const views = async () => {
    const [gap, cost, changed] = await Promise.all([
      askForPage(workspace, 'reconcile', { period, scope }, result),
      askForPage(workspace, 'weigh', { period, scope, by: undefined }, result),
      askForPage(workspace, 'changed', { period, first: daysBefore(period), scope }, result),
    ])
    return gap && cost && changed && { gap, cost, changed: changed.whole }
  }
  const found = span && (await views())
  const { judged, habits, network } = await buildFrame(search)
  const asked = typeof search.as === 'string' && isLocale(search.as) ? search.as : null
  return (
    <Station search={search}>
      {!span && <NothingYet station="Reconcile" />}
      {span && !found && <Gathering view="changed" result={result} />}
      {found && (
        <ClientScreen
          {...found}
          name={name}
          rules={judged}
          habits={{ ...habits, locale: asked ?? habits.locale }}
          asked={asked}
          network={network}
        />
      )}
    </Station>
  )
}
