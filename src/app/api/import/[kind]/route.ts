import { workspaceHere } from '@/app/frame'
import { decodeText } from '@/formats/encoding'
import { answerJob } from '@/server/import/answerJob'
import { isFileKind } from '@/server/import/importFile'
import { answering, fileNameOf, readBody, readEncoding } from '../../answering'

export const dynamic = 'force-dynamic'

/** Takes in one exchange file, a CSV body; the header `x-encoding` says its encoding where that is found out wrong. */
export const POST = answering<{ params: Promise<{ kind: string }> }>(async (request, { params }) => {
  const { kind } = await params
  if (!isFileKind(kind)) return Response.json({ error: `There is no file kind "${kind}".` }, { status: 404 })
  const content = decodeText(await readBody(request), readEncoding(request))
  const input = { kind, content, file: fileNameOf(request) }
  return answerJob(request, 'file', await workspaceHere(), input, ({ rejected, ...outcome }) => ({
    ...outcome,
    rejected: rejected.map(({ line, column, reason, value }) => ({ line, column, reason, value })),
  }))
})
