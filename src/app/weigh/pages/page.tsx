import { keepWeights } from '@/app/intake/actions'
import { askForPage } from '@/server/compute/ask'
import { Gathering } from '@/ui/shell/Gathering'
import { NothingYet } from '@/ui/shell/NothingYet'
import { PagesScreen } from '@/ui/weigh/pages/PagesScreen'
import { readAddress, type Search } from '../../frame'
import { Station } from '../../Station'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Pages and offers' }

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const search = await searchParams
  const { workspace, period, scope, span, result } = await readAddress(search)
  const view = span && (await askForPage(workspace, 'pages', { period, scope }, result))
  return (
    <Station search={search}>
      {!span && <NothingYet station="Weigh" />}
      {span && !view && <Gathering view="pages" result={result} />}
      {view && <PagesScreen view={view} shift={keepWeights} />}
    </Station>
  )
}
