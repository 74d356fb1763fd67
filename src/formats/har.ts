import * as z from 'zod'
import type { RecordedRequest, Recording } from '@/core/signals/page'
import { parseJson } from './json'

// HTTP Archive 1.2: only what is used is read.
const instant = z.string().transform((text, context) => {
  const at = Date.parse(text)
  if (Number.isNaN(at)) context.addIssue({ code: 'custom', message: 'no instant' })
  return at
})
/** Recorders leave out what they do not know, or write null for it. */
const listOf = <Schema extends z.ZodType>(schema: Schema) =>
  z
    .array(schema)
    .nullish()
    .transform(list => list ?? [])
const pairSchema = z.object({ name: z.string(), value: z.string().nullish() })
const harSchema = z.object({
  log: z.object({
    pages: listOf(z.object({ id: z.string(), title: z.string().nullish(), startedDateTime: instant })),
    entries: z.array(
      z.object({
        pageref: z.string().nullish(),
        startedDateTime: instant,
        request: z.object({
          url: z.string(),
          headers: listOf(pairSchema),
          postData: z.object({ text: z.string().nullish(), params: listOf(pairSchema) }).nullish(),
        }),
        response: z
          .object({
            status: z.number().nullish(),
            _error: z.string().nullish(),
            _failureText: z.string().nullish(),
            content: z.object({ mimeType: z.string().nullish() }).nullish(),
          })
          .nullish(),
      }),
    ),
  }),
})

const WHOLE_VISIT = 'visit'

/**
 * Reads a recording of a visit in the HTTP Archive format.
 *
 * @throws InvalidJson where it is none
 */
export function readRecording(content: string, file: string): Recording {
  const { pages, entries } = parseJson(content, harSchema, file).log
  const requests = entries.map(({ pageref, startedDateTime, request, response }, index): RecordedRequest => {
    const status = response?.status ?? 0
    const failed = status <= 0 || status >= 400 || Boolean(response?._error || response?._failureText)
    return {
      index,
      page: pageref ?? (pages.length === 0 ? WHOLE_VISIT : null),
      address: request.url,
      at: startedDateTime,
      parameters: parametersOf(request.url, request.postData),
      failed,
      document:
        (response?.content?.mimeType?.startsWith('text/html') ?? false) &&
        status < 300 &&
        // A frame within a page is no page of the visit.
        !request.headers.some(h => h.name.toLowerCase() === 'sec-fetch-dest' && h.value !== 'document'),
    }
  })
  const [first] = requests
  const told = pages.map(({ id, title, startedDateTime }) => ({
    id,
    at: startedDateTime,
    address: title ?? '',
  }))
  // A recorder that tells no pages still tells the documents that were opened.
  const whole =
    told.length === 0 && first ? [{ id: WHOLE_VISIT, at: first.at, address: first.address }] : told
  return splitByDocument(whole, requests)
}

/**
 * A recorder may write all that one tab visited as one page: every document begins a page of its own, and
 * what was asked for after it belongs to it.
 */
function splitByDocument(pages: Recording['pages'], requests: RecordedRequest[]): Recording {
  const split: Recording['pages'] = []
  for (const page of pages) {
    const own = requests.filter(r => r.page === page.id).sort((a, b) => a.at - b.at)
    const documents = own.filter(r => r.document && !r.failed)
    // A page is named by its document; some recorders put its address into the title.
    if (documents.length === 0) split.push(page)
    documents.forEach((document, i) => {
      const id = i === 0 ? page.id : `${page.id} ${i}`
      split.push({ id, at: i === 0 ? page.at : document.at, address: document.address })
      const next = documents[i + 1]?.at ?? Number.POSITIVE_INFINITY
      for (const request of own)
        if (i > 0 && request.at >= document.at && request.at < next) request.page = id
    })
  }
  return { pages: split, requests }
}

type PostData = z.infer<typeof harSchema>['log']['entries'][number]['request']['postData']

/** What a request told in its address and its body, as fields or as text. */
function parametersOf(address: string, body: PostData): Map<string, string> {
  const parameters = new Map(URL.canParse(address) ? new URL(address).searchParams : [])
  for (const { name, value } of body?.params ?? []) parameters.set(name, value ?? '')
  if (!body?.text) return parameters
  try {
    for (const [key, value] of Object.entries(JSON.parse(body.text) as Record<string, unknown>))
      if (typeof value === 'string' || typeof value === 'number') parameters.set(key, String(value))
  } catch {
    for (const [key, value] of new URLSearchParams(body.text)) parameters.set(key, value)
  }
  return parameters
}
