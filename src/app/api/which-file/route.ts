import { workspaceHere } from '@/app/frame'
import { sharedDatabase } from '@/data/connect'
import { FileRefused } from '@/formats/csv'
import { openFile } from '@/server/import/openFile'
import { placeOfFile } from '@/server/import/placeOfFile'
import { answering, fileNameOf, readBody } from '../answering'

export const dynamic = 'force-dynamic'

/** What the file in the body seems to be, by its first rows and name; null where it could be anything. */
export const POST = answering(async request => {
  const file = fileNameOf(request) ?? 'file'
  try {
    const { text: content } = await openFile(await readBody(request), file)
    return Response.json(await placeOfFile(sharedDatabase(), await workspaceHere(), content, file))
  } catch (error) {
    if (error instanceof FileRefused) return Response.json({ place: null, problem: error.message })
    throw error
  }
})
