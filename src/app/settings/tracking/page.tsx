import { sharedDatabase } from '@/data/connect'
import { siteKeyOf, trackingOrigin } from '@/server/routes'
import { TrackingScreen } from '@/ui/settings/TrackingScreen'
import { type Search, workspaceHere } from '../../frame'
import { Station } from '../../Station'
import { checkTrackingHere } from '../actions'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Tracking domain' }

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const { id, settings } = await workspaceHere()
  return (
    <Station search={await searchParams}>
      <TrackingScreen
        origin={trackingOrigin()}
        site={await siteKeyOf(sharedDatabase(), id)}
        fallback={settings.fallback_address ?? null}
        check={checkTrackingHere}
      />
    </Station>
  )
}
