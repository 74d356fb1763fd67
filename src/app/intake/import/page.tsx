import { sharedDatabase } from '@/data/connect'
import { listBatches } from '@/data/workspace'
import { webhookSecret } from '@/server/orderWebhook'
import { rejectWords } from '@/server/words'
import { instant } from '@/ui/format'
import { ImportScreen } from '@/ui/intake/ImportScreen'
import { type Search, workspaceHere } from '../../frame'
import { Station } from '../../Station'

export const dynamic = 'force-dynamic'

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const workspace = await workspaceHere()
  const batches = await listBatches(sharedDatabase(), workspace.id, 12)
  return (
    <Station search={await searchParams}>
      <ImportScreen
        words={rejectWords}
        webhook={{
          address: `http://localhost:${process.env.PORT ?? 4600}/api/orders`,
          secret: await webhookSecret(sharedDatabase(), workspace.id),
        }}
        past={batches.map(b => ({
          ...b,
          at: `${instant(b.imported_at.getTime(), workspace.settings.time_zone)} ${workspace.settings.time_zone}`,
        }))}
      />
    </Station>
  )
}
