import { workspaceHere } from '@/app/frame'
import { sharedDatabase } from '@/data/connect'
import { FileRefused } from '@/formats/csv'
import { importFile, isFileKind } from '@/server/importFile'

export const dynamic = 'force-dynamic'

const MOST_BYTES = 200 * 1024 * 1024

/** Takes in one exchange file, a CSV body. */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ kind: string }> },
): Promise<Response> {
  const { kind } = await params
  if (!isFileKind(kind)) return Response.json({ error: `There is no file kind "${kind}".` }, { status: 404 })
  if (Number(request.headers.get('content-length') ?? 0) > MOST_BYTES)
    return Response.json({ error: 'The file is over 200 MB; split it.' }, { status: 413 })
  try {
    const file = request.headers.get('x-file-name')
    const { columns, ...outcome } = await importFile(
      sharedDatabase(),
      await workspaceHere(),
      kind,
      await request.text(),
      file ? decodeURIComponent(file).slice(0, 200) : undefined,
    )
    return Response.json({
      ...outcome,
      rejected: outcome.rejected.map(({ line, column, reason, value }) => ({ line, column, reason, value })),
      columns,
    })
  } catch (error) {
    if (error instanceof FileRefused)
      return Response.json({ error: error.message, code: error.code }, { status: 400 })
    throw error
  }
}
