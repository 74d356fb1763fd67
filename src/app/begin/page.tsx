import { heldToBegin } from '@/data/beginning'
import { sharedDatabase } from '@/data/connect'
import { askForPage } from '@/server/compute/ask'
import { FIRST_NAME } from '@/server/workspace'
import { BeginScreen } from '@/ui/begin/BeginScreen'
import { keepWorkspace } from '../actions'
import { readAddress, type Search, workspaceHere } from '../frame'
import { Station } from '../Station'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Begin' }

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const { id, name, settings } = await workspaceHere()
  const held = await heldToBegin(sharedDatabase(), id, settings.time_zone)
  const { span, period } = await readAddress({})
  const view =
    held.orders && held.spend && span && (await askForPage(id, 'weigh', { period, scope: {}, by: undefined }))
  return (
    <Station search={await searchParams}>
      <BeginScreen
        held={{ ...held, settled: name !== FIRST_NAME }}
        given={{ name, currency: settings.currency, time_zone: settings.time_zone, margin: settings.margin }}
        first={view ? view.totals.sums : null}
        keep={keepWorkspace}
      />
    </Station>
  )
}
