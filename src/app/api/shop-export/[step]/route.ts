import * as z from 'zod'
import { workspaceHere } from '@/app/frame'
import { exportMappingSchema } from '@/core/intake/shopExport/mapping'
import { sharedDatabase } from '@/data/connect'
import { FileRefused } from '@/formats/csv'
import { answerJob } from '@/server/import/answerJob'
import { openFile } from '@/server/import/openFile'
import { lookAtExport } from '@/server/import/shopExport'
import { answering, fileNameOf, parseJson, readAsked, readBody, readHeader } from '../../answering'

export const dynamic = 'force-dynamic'

/**
 * A shop's export of any columns, delimited text or a workbook, the body, in three steps: `look` at its first rows
 * and guess which column is which; `compare` its orders with what is held; `take` it in.
 */
export const POST = answering<{ params: Promise<{ step: string }> }>(async (request, { params }) => {
  const { step } = await params
  const workspace = await workspaceHere()
  const file = fileNameOf(request) ?? 'export'
  try {
    const { text: content, how } = await openFile(await readBody(request), file, readAsked(request))
    if (step === 'look')
      return Response.json({ ...(await lookAtExport(sharedDatabase(), workspace, content)), how })
    const given = parseJson(readHeader(request, 'x-mapping') ?? '{}', 'The header x-mapping')
    const mapping = exportMappingSchema.safeParse(given)
    if (!mapping.success) return Response.json({ error: z.prettifyError(mapping.error) }, { status: 400 })
    const input = { file, mapping: mapping.data, content }
    if (step === 'compare')
      return answerJob(request, 'compareExport', workspace, input, difference => difference)
    if (step === 'take')
      return answerJob(request, 'takeExport', workspace, input, ({ rejected, ...outcome }) => ({
        ...outcome,
        rejected: rejected.length,
      }))
  } catch (error) {
    if (error instanceof FileRefused) return Response.json({ error: error.message }, { status: 400 })
    throw error
  }
  return Response.json({ error: `There is no step "${step}".` }, { status: 404 })
})
