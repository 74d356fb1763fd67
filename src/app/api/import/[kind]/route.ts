import { workspaceHere } from '@/app/frame'
import { decodeText } from '@/formats/sheet'
import { answerJob } from '@/server/import/answerJob'
import { isFileKind } from '@/server/import/importFile'
import { fileNameOf, tooLarge } from '../../upload'

export const dynamic = 'force-dynamic'

/** Takes in one exchange file, a CSV body. */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ kind: string }> },
): Promise<Response> {
  const { kind } = await params
  if (!isFileKind(kind)) return Response.json({ error: `There is no file kind "${kind}".` }, { status: 404 })
  const refused = tooLarge(request)
  if (refused) return refused
  const content = decodeText(await request.arrayBuffer())
  const input = { kind, content, file: fileNameOf(request) }
  return answerJob(request, 'file', await workspaceHere(), input, ({ rejected, ...outcome }) => ({
    ...outcome,
    rejected: rejected.map(({ line, column, reason, value }) => ({ line, column, reason, value })),
  }))
}
