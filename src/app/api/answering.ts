import type { ReadAs } from '@/core/intake/readAs'
import { type Encoding, encodings } from '@/core/shared/encodings'
import { isTooDeep } from '@/core/shared/jsonDepth'
import { isCleanText } from '@/core/shared/text'
import { DatabaseAway, DiskFull, ReadOnly } from '@/data/errors'
import { Cancelled } from '@/server/threads'

/** Files; the proxy hands on a little more than this, so that what is longer is seen to be. */
const MOST_BYTES = 200 * 1024 * 1024

/** A request that is not served: the status says whose fault it is, the text what to do. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message)
  }
}

type Handler<Context> = (request: Request, context: Context) => Response | Promise<Response>

/** A route handler that answers what it refuses in words, and a database that is away with 503; whatever else fails, too. */
export const answering =
  <Context = unknown>(handle: Handler<Context>): Handler<Context> =>
  async (request, context) => {
    try {
      return await handle(request, context)
    } catch (error) {
      if (error instanceof Refused) return Response.json({ error: error.message }, { status: error.status })
      // Whoever asked is gone, and hears nothing.
      if (error instanceof Cancelled) return new Response(null, { status: 499 })
      if (!(error instanceof DatabaseAway)) {
        console.error(error)
        const words =
          'Something failed here; the log says what. Whether it was done is not known: look before you try again.'
        return Response.json({ error: words }, { status: 500 })
      }
      const words =
        error instanceof DiskFull || error instanceof ReadOnly
          ? error.message
          : 'The database does not answer at the moment. Nothing was taken in; try again.'
      return Response.json({ error: words }, { status: 503, headers: { 'retry-after': '5' } })
    }
  }

/**
 * The body of a request, read no further than it may be long, however it is sent.
 *
 * @throws Refused
 */
export async function readBody(request: Request, most = MOST_BYTES): Promise<Uint8Array<ArrayBuffer>> {
  const tooLarge = new Refused(
    413,
    most === MOST_BYTES ? 'The file is over 200 MB; split it.' : `The body holds at most ${most} bytes.`,
  )
  if (Number(request.headers.get('content-length') ?? 0) > most) throw tooLarge
  const chunks: Uint8Array[] = []
  let size = 0
  const reader = request.body?.getReader()
  for (;;) {
    const { value, done } = (await reader?.read()) ?? { value: undefined, done: true }
    if (done) return Buffer.concat(chunks)
    size += value.length
    if (size > most) {
      await reader?.cancel()
      throw tooLarge
    }
    chunks.push(value)
  }
}

/**
 * The JSON of a body. A page of another site cannot send that type without asking first.
 *
 * @throws Refused
 */
export async function readJson(request: Request, most?: number): Promise<unknown> {
  if (!request.headers.get('content-type')?.startsWith('application/json'))
    throw new Refused(415, 'Send the body as application/json.')
  const body = await readBody(request, most)
  return parseJson(new TextDecoder().decode(body), 'The body')
}

/**
 * The JSON of a text that came from outside.
 *
 * @param what names it in the refusal
 * @throws Refused
 */
export function parseJson(text: string, what: string): unknown {
  if (isTooDeep(text)) throw new Refused(400, `${what} is nested deeper than 60 levels.`)
  try {
    return JSON.parse(text, (_, value) => {
      if (typeof value === 'string' && !isCleanText(value))
        throw new Error('a text in it holds a NUL or half a character')
      return value
    })
  } catch (error) {
    throw new Refused(400, `${what} cannot be read as JSON: ${error instanceof Error ? error.message : ''}`)
  }
}

/**
 * The text of a header that is sent percent-encoded; null where it is not sent.
 *
 * @throws Refused
 */
export function readHeader(request: Request, name: string): string | null {
  const value = request.headers.get(name)
  try {
    const text = value === null ? null : decodeURIComponent(value)
    if (text === null || isCleanText(text)) return text
  } catch {}
  throw new Refused(400, `The header ${name} is not percent-encoded text: ${value?.slice(0, 100)}`)
}

/**
 * In which encoding a file is to be read, where the sender says it (`x-encoding`).
 *
 * @throws Refused for one that no file is read in
 */
export function readEncoding(request: Request): Encoding | undefined {
  const name = readHeader(request, 'x-encoding')
  if (!name) return undefined
  const known = encodings.find(one => one === name.toLowerCase())
  if (!known)
    throw new Refused(400, `Files are not read in the encoding ${name}. There are: ${encodings.join(', ')}.`)
  return known
}

const LONGEST_NAME = 200
/** How the sender wants a table to be read: its encoding, the sheet of a workbook. */
export const readAsked = (request: Request): Partial<ReadAs> => {
  const sheet = readHeader(request, 'x-sheet')
  return { encoding: readEncoding(request) ?? null, sheet: sheet ?? null }
}

/** The name of the file that a body was read from, where the sender says it. */
export const fileNameOf = (request: Request): string | undefined =>
  readHeader(request, 'x-file-name')?.slice(0, LONGEST_NAME)
