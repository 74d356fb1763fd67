import { workspaceHere } from '@/app/frame'
import { sharedDatabase } from '@/data/connect'
import { listProfiles } from '@/data/workspace'
import { answering } from '../../answering'

export const dynamic = 'force-dynamic'

/** One network profile as JSON, to be kept, given away and imported elsewhere. It holds no secret. */
export const GET = answering<{ params: Promise<{ id: string }> }>(async (_, { params }) => {
  const wanted = (await params).id
  const { id } = await workspaceHere()
  const profile = (await listProfiles(sharedDatabase(), id)).find(p => p.id === wanted)
  if (!profile) return Response.json({ error: `There is no profile "${wanted}".` }, { status: 404 })
  return new Response(`${JSON.stringify(profile, null, 2)}\n`, {
    headers: {
      'content-type': 'application/json',
      'content-disposition': `attachment; filename="${profile.id}.json"`,
    },
  })
})
