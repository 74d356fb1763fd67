import { sharedDatabase } from '@/data/connect'
import { listProfiles, listRoutes } from '@/data/workspace'
import { trackingOrigin, unpublished } from '@/server/routes'
import { RoutesScreen } from '@/ui/intake/RoutesScreen'
import { type Search, workspaceHere } from '../../frame'
import { Station } from '../../Station'
import { keepFallbackHere, keepRouteHere } from '../actions'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Routes' }

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const { id, settings } = await workspaceHere()
  const [routes, profiles] = [await listRoutes(sharedDatabase()), await listProfiles(sharedDatabase(), id)]
  const broken = unpublished().routes
  return (
    <Station search={await searchParams}>
      <RoutesScreen
        routes={routes.flatMap(({ workspace, ...route }) => (workspace === id ? [route] : []))}
        networks={profiles.map(p => p.id)}
        origin={trackingOrigin()}
        broken={Object.fromEntries(broken.filter(b => b.workspace === id).map(b => [b.code, b.why]))}
        fallback={settings.fallback_address ?? ''}
        keep={keepRouteHere}
        keepFallback={keepFallbackHere}
      />
    </Station>
  )
}
