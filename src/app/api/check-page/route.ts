import { workspaceHere } from '@/app/frame'
import { decodeText } from '@/formats/encoding'
import { InvalidJson } from '@/formats/json'
import { NotFetched } from '@/server/hop'
import { runJob } from '@/server/import/runJob'
import { fetchPage } from '@/server/signals/fetchPage'
import { answering, fileNameOf, readBody } from '../answering'

export const dynamic = 'force-dynamic'

/**
 * Checks the tags of `?page=`: of the HTML or recording in the body (`&kind=html|har`), or of the page as
 * it is fetched where the body is empty.
 */
export const POST = answering(async request => {
  const query = new URL(request.url).searchParams
  const page = query.get('page') ?? ''
  const refuse = (error: string) => Response.json({ error }, { status: 400 })
  if (!/^https?:\/\//i.test(page) || !URL.canParse(page))
    return refuse('Say of which page: its whole address, with https://.')
  const kind = query.get('kind') === 'har' ? 'har' : 'html'
  try {
    const given = decodeText(await readBody(request))
    const { address, html } = given === '' ? await fetchPage(page) : { address: page, html: given }
    const input = { kind, page: address, content: html, file: fileNameOf(request) ?? address } as const
    return Response.json({ page: address, findings: await runJob('checkPage', await workspaceHere(), input) })
  } catch (error) {
    if (error instanceof NotFetched || error instanceof InvalidJson) return refuse(error.message)
    throw error
  }
})
