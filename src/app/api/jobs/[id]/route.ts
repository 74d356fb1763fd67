import { cancelJob } from '@/server/import/answerJob'
import { answering } from '../../answering'

export const dynamic = 'force-dynamic'

/** Cancels a job that takes a file in; its own answer says what went in. */
export const DELETE = answering<{ params: Promise<{ id: string }> }>(async (_, { params }) =>
  cancelJob((await params).id)
    ? new Response(null, { status: 204 })
    : Response.json({ error: 'There is no such job: it has ended.' }, { status: 404 }),
)
