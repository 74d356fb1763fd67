import { formatDay } from '@/core/shared/days'
import { sharedDatabase } from '@/data/connect'
import { listSources, type SourceKind, sourceColumns } from '@/data/links'
import { SourcesScreen } from '@/ui/links/SourcesScreen'
import { readAddress, type Search } from '../../frame'
import { Station } from '../../Station'

export const dynamic = 'force-dynamic'

const MOST = 500
const kinds = Object.keys(sourceColumns) as SourceKind[]

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const search = await searchParams
  const { workspace, settings, period, scope } = await readAddress(search)
  const kind = kinds.find(k => k === search.by) ?? 'source'
  const span = { from: formatDay(period.from), to: formatDay(period.to) }
  const lines = await listSources(
    sharedDatabase(),
    workspace,
    kind,
    { ...span, network: scope.network },
    MOST,
  )
  return (
    <Station search={search}>
      <SourcesScreen
        kind={kind}
        kinds={kinds}
        lines={lines}
        currency={settings.currency}
        zone={settings.time_zone}
        most={MOST}
      />
    </Station>
  )
}
