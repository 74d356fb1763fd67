import { workspaceHere } from '@/app/frame'
import { sharedDatabase } from '@/data/connect'
import { latestArrivals } from '@/server/arrivals'

export const dynamic = 'force-dynamic'

/** The latest clicks and orders, or none while the workspace is as the caller knows it (`?version=`). */
export async function GET(request: Request): Promise<Response> {
  const query = new URL(request.url).searchParams
  const workspace = await workspaceHere()
  if (query.get('version') === String(workspace.version))
    return Response.json({ version: workspace.version, arrivals: null })
  return Response.json({
    version: workspace.version,
    arrivals: await latestArrivals(sharedDatabase(), workspace, query.get('network')),
  })
}
