import { heldToBegin } from '@/data/beginning'
import { sharedDatabase } from '@/data/connect'
import { listProfiles } from '@/data/workspace'
import { askForPage } from '@/server/compute/ask'
import { FIRST_NAME } from '@/server/workspace'
import { BeginScreen } from '@/ui/begin/BeginScreen'
import { readAddress, type Search, workspaceHere } from '../frame'
import { Station } from '../Station'
import { beginNetwork } from '../settings/actions'
import { settingsActions } from '../settings/settingsActions'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Begin' }

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const { id, name, settings } = await workspaceHere()
  const held = await heldToBegin(sharedDatabase(), id, settings.time_zone)
  const networks = (await listProfiles(sharedDatabase(), id)).map(profile => profile.id)
  const { span, period } = await readAddress({})
  const view =
    held.orders && held.spend && span && (await askForPage(id, 'weigh', { period, scope: {}, by: undefined }))
  return (
    <Station search={await searchParams}>
      <BeginScreen
        held={{ ...held, networks, settled: name !== FIRST_NAME }}
        name={name}
        settings={settings}
        first={view ? view.totals.sums : null}
        actions={settingsActions}
        beginNetwork={beginNetwork}
      />
    </Station>
  )
}
