import { askForPage } from '@/server/compute/ask'
import { OwnRulesScreen } from '@/ui/reconcile/OwnRulesScreen'
import { Gathering } from '@/ui/shell/Gathering'
import { NothingYet } from '@/ui/shell/NothingYet'
import { buildFrame, readAddress, type Search } from '../../frame'
import { Station } from '../../Station'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Rules beside' }

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const search = await searchParams
  const { workspace, period, scope, span, result } = await readAddress(search)
  const view = span && (await askForPage(workspace, 'ownRules', { period, scope }, result))
  const { judged } = await buildFrame(search)
  return (
    <Station search={search}>
      {!span && <NothingYet station="Reconcile" />}
      {span && !view && <Gathering view="ownRules" result={result} />}
      {view && <OwnRulesScreen view={view} ours={judged} />}
    </Station>
  )
}
