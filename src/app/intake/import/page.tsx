import { sharedDatabase } from '@/data/connect'
import { listBatches } from '@/data/workspace'
import { webhookSecret } from '@/server/orderWebhook'
import { siteKeyOf, trackingOrigin } from '@/server/routes'
import { rejectWords } from '@/server/words'
import { ImportScreen } from '@/ui/intake/ImportScreen'
import { type Search, workspaceHere } from '../../frame'
import { Station } from '../../Station'
import { replaceSecret, takeImportBack } from '../actions'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Import files' }

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const workspace = await workspaceHere()
  const batches = await listBatches(sharedDatabase(), workspace.id, 12)
  return (
    <Station search={await searchParams}>
      <ImportScreen
        words={rejectWords}
        webhook={{
          address: `${trackingOrigin()}/o/${await siteKeyOf(sharedDatabase(), workspace.id)}`,
          secret: await webhookSecret(sharedDatabase(), workspace.id),
        }}
        replaceSecret={replaceSecret}
        undo={takeImportBack}
        past={batches.map(b => ({ ...b, at: b.imported_at.getTime(), undone: b.undone_at !== null }))}
      />
    </Station>
  )
}
