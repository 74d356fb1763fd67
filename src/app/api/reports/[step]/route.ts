import * as z from 'zod'
import { workspaceHere } from '@/app/frame'
import { reportMappingSchema } from '@/core/intake/reports/mapping'
import { sharedDatabase } from '@/data/connect'
import { FileRefused } from '@/formats/csv'
import { answerJob } from '@/server/import/answerJob'
import { openFile } from '@/server/import/openFile'
import { lookAtReport } from '@/server/import/report'
import { answering, fileNameOf, parseJson, readAsked, readBody, readHeader } from '../../answering'

export const dynamic = 'force-dynamic'

/**
 * A network's report of any columns, the body, in three steps: `look` at its first rows and guess which
 * column is which; `compare` its days with what is held; `take` it in.
 */
export const POST = answering<{ params: Promise<{ step: string }> }>(async (request, { params }) => {
  const { step } = await params
  const network = new URL(request.url).searchParams.get('network')
  if (!network) return Response.json({ error: 'Say of which network: ?network=ID.' }, { status: 400 })
  const workspace = await workspaceHere()
  const file = fileNameOf(request) ?? `${network} report`
  let content: string
  try {
    const read = await openFile(await readBody(request), file, readAsked(request))
    content = read.text
    if (step === 'look')
      return Response.json({
        ...(await lookAtReport(sharedDatabase(), workspace, network, content)),
        how: read.how,
      })
  } catch (error) {
    if (error instanceof FileRefused) return Response.json({ error: error.message }, { status: 400 })
    throw error
  }
  const given = parseJson(readHeader(request, 'x-mapping') ?? '{}', 'The header x-mapping')
  const mapping = reportMappingSchema.safeParse(given)
  if (!mapping.success) return Response.json({ error: z.prettifyError(mapping.error) }, { status: 400 })
  const input = { network, file, mapping: mapping.data, content }
  if (step === 'compare')
    return answerJob(request, 'compareReport', workspace, input, difference => difference)
  if (step === 'take')
    return answerJob(request, 'takeReport', workspace, input, ({ rejected, ...outcome }) => ({
      ...outcome,
      rejected: rejected.length,
    }))
  return Response.json({ error: `There is no step "${step}".` }, { status: 404 })
})
