import { JUDGED_RESULT } from '@/core/intake/judgedResult'
import { sourceKinds } from '@/core/links/sources'
import { sharedDatabase } from '@/data/connect'
import { askForPage } from '@/server/compute/ask'
import { gatherSources } from '@/server/links/sources'
import { SourcesScreen } from '@/ui/links/SourcesScreen'
import { Gathering } from '@/ui/shell/Gathering'
import { readAddress, type Search } from '../../frame'
import { Station } from '../../Station'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Sources' }

const MOST = 500

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const search = await searchParams
  const { workspace, settings, period, scope } = await readAddress(search)
  const kind = sourceKinds.find(k => k === search.by) ?? 'source'
  const credits = await askForPage(workspace, 'provenCredits', { period, scope })
  if (!credits)
    return (
      <Station search={search}>
        <Gathering view="provenCredits" result={JUDGED_RESULT} />
      </Station>
    )
  const lines = await gatherSources(sharedDatabase(), workspace, {
    kind,
    period,
    zone: settings.time_zone,
    network: scope.network,
    credits,
  })
  return (
    <Station search={search}>
      <SourcesScreen kind={kind} lines={lines.slice(0, MOST)} all={lines.length} />
    </Station>
  )
}
