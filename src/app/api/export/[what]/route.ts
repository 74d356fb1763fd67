import { Zip, ZipDeflate } from 'fflate'
import { readAddress, workspaceHere } from '@/app/frame'
import { formatDay, parseDay } from '@/core/shared/days'
import { sharedDatabase } from '@/data/connect'
import { ask } from '@/server/compute/ask'
import { folderSettings } from '@/server/counting'
import { conversionsCsv, type RecordFile, recordFiles, recordKinds, recordsCsv } from '@/server/exportRecords'
import { asideCsv } from '@/server/setAside'
import { writeWorkspace } from '@/server/workspaceFile'
import { answering, Refused } from '../../answering'
import { askedResult } from '../../askedResult'

export const dynamic = 'force-dynamic'
type Context = { params: Promise<{ what: string }> }

/** Records of a period as CSV (`?from=&to=&network=`), conversions with their ad, or all there is as a ZIP archive. */
export const GET = answering<Context>(async (request, { params }) => {
  const { what } = await params
  const query = Object.fromEntries(new URL(request.url).searchParams)
  for (const key of ['from', 'to'] as const)
    if (query[key] && parseDay(query[key]) === null)
      throw new Refused(400, `“${query[key]}” is no day: write ${key}=2026-10-05.`)
  const workspace = await workspaceHere()
  const { period } = await readAddress(query)
  const database = sharedDatabase()
  if (what === 'all') {
    const settings = { ...(await folderSettings(database, workspace)) }
    const fixed = {
      'settings.json': JSON.stringify(settings, null, 1),
      'workspace.json': JSON.stringify(await writeWorkspace(database, workspace), null, 1),
    }
    const today = new Date().toISOString().slice(0, 10)
    return download(
      zipped(fixed, recordFiles(database, workspace, recordKinds)),
      `aequant ${today}.zip`,
      'application/zip',
    )
  }
  const cut = { from: formatDay(period.from), to: formatDay(period.to), network: query.network || null }
  const named = (name: string) => `${name} ${cut.from} to ${cut.to}.csv`
  if (what === 'conversions') {
    const result = await askedResult(new URL(request.url).searchParams, workspace.id)
    const scope = cut.network ? { network: cut.network } : {}
    const conversions = await ask(workspace.id, 'conversions', { period, scope }, result, request.signal)
    const text = conversionsCsv(conversions, workspace.settings.currency, result)
    return download(once(text), named(`conversions ${result}`), 'text/csv; charset=utf-8')
  }
  if (what === 'set-aside')
    return download(asideCsv(database, workspace.id), 'needs review.csv', 'text/csv; charset=utf-8')
  const kind = recordKinds.find(one => one === what)
  if (!kind)
    throw new Refused(
      404,
      `There is no file “${what}”. There are: ${recordKinds.join(', ')}, conversions, set-aside, all.`,
    )
  return download(recordsCsv(database, workspace, kind, cut), named(kind), 'text/csv; charset=utf-8')
})

async function* once(text: string) {
  yield text
}

/** Files as one archive, put together as it is read. */
async function* zipped(
  fixed: Record<string, string>,
  files: AsyncGenerator<RecordFile>,
): AsyncGenerator<Uint8Array> {
  const ready: Uint8Array[] = []
  const zip = new Zip((error, chunk) => {
    if (error) throw error
    ready.push(chunk)
  })
  const encoder = new TextEncoder()
  const open = (name: string) => {
    const file = new ZipDeflate(name, { level: 6 })
    zip.add(file)
    return file
  }
  for (const [name, text] of Object.entries(fixed)) open(name).push(encoder.encode(text), true)
  for await (const { name, parts } of files) {
    const file = open(name)
    for await (const part of parts) {
      file.push(encoder.encode(part))
      yield* ready.splice(0)
    }
    file.push(new Uint8Array(), true)
  }
  zip.end()
  yield* ready
}

function download(parts: AsyncGenerator<string | Uint8Array>, name: string, type: string): Response {
  const encoder = new TextEncoder()
  const body = new ReadableStream<Uint8Array>({
    async pull(controller) {
      const { value, done } = await parts.next()
      if (done) return controller.close()
      controller.enqueue(typeof value === 'string' ? encoder.encode(value) : value)
    },
    cancel: async () => void (await parts.return(undefined)),
  })
  return new Response(body, {
    headers: {
      'content-type': type,
      // IDs that the name holds may be in any script (RFC 8187).
      'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
    },
  })
}
