import { JUDGED_RESULT } from '@/core/intake/judgedResult'
import { heldToBegin } from '@/data/beginning'
import { sharedDatabase } from '@/data/connect'
import { askForPage } from '@/server/compute/ask'
import { knownNetworks } from '@/server/networks'
import { FIRST_NAME } from '@/server/workspace'
import { BeginScreen } from '@/ui/begin/BeginScreen'
import { Gathering } from '@/ui/shell/Gathering'
import { readAddress, type Search, workspaceHere } from '../frame'
import { Station } from '../Station'
import { beginNetwork } from '../settings/actions'
import { settingsActions } from '../settings/settingsActions'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Begin' }

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const { id, name, settings } = await workspaceHere()
  const held = await heldToBegin(sharedDatabase(), id, settings.time_zone)
  const networks = (await knownNetworks(sharedDatabase(), id)).flatMap(n => (n.profile ? [n.id] : []))
  const { span, period } = await readAddress({})
  const hasNumber = Boolean(held.orders && held.spend && span)
  const view = hasNumber ? await askForPage(id, 'weigh', { period, scope: {}, by: undefined }) : null
  if (hasNumber && !view)
    return (
      <Station search={await searchParams}>
        <Gathering view="weigh" result={JUDGED_RESULT} />
      </Station>
    )
  return (
    <Station search={await searchParams}>
      <BeginScreen
        held={{ ...held, networks, settled: name !== FIRST_NAME }}
        name={name}
        settings={settings}
        first={view ? { sums: view.totals.sums, rests: view.rests } : null}
        actions={settingsActions}
        beginNetwork={beginNetwork}
      />
    </Station>
  )
}
