import * as z from 'zod'
import type { RecordedRequest, Recording } from '@/core/signals/page'
import { parseJson } from './json'

// HTTP Archive 1.2: only what is used is read.
const instant = z.string().transform((text, context) => {
  const at = Date.parse(text)
  if (Number.isNaN(at)) context.addIssue({ code: 'custom', message: 'no instant' })
  return at
})
const harSchema = z.object({
  log: z.object({
    pages: z
      .array(z.object({ id: z.string(), title: z.string().optional(), startedDateTime: instant }))
      .default([]),
    entries: z.array(
      z.object({
        pageref: z.string().optional(),
        startedDateTime: instant,
        request: z.object({
          url: z.string(),
          method: z.string(),
          headers: z.array(z.object({ name: z.string(), value: z.string() })).default([]),
          postData: z.object({ mimeType: z.string().optional(), text: z.string().optional() }).optional(),
        }),
        response: z.object({
          status: z.number(),
          _error: z.string().nullish(),
          _failureText: z.string().nullish(),
          content: z.object({ mimeType: z.string().optional() }).optional(),
        }),
      }),
    ),
  }),
})

/**
 * Reads a recording of a visit in the HTTP Archive format.
 *
 * @throws InvalidJson where it is none
 */
export function readRecording(content: string, file: string): Recording {
  const { pages, entries } = parseJson(content, harSchema, file).log
  const requests = entries.map(({ pageref, startedDateTime, request, response }, index): RecordedRequest => {
    const failed =
      response.status <= 0 || response.status >= 400 || Boolean(response._error ?? response._failureText)
    return {
      index,
      page: pageref ?? null,
      address: request.url,
      at: startedDateTime,
      parameters: parametersOf(request.url, request.postData?.text),
      failed,
      document:
        (response.content?.mimeType?.startsWith('text/html') ?? false) &&
        response.status < 300 &&
        // A frame within a page is no page of the visit.
        !request.headers.some(h => h.name.toLowerCase() === 'sec-fetch-dest' && h.value !== 'document'),
    }
  })
  return splitByDocument(
    pages.map(({ id, title, startedDateTime }) => ({ id, at: startedDateTime, address: title ?? '' })),
    requests,
  )
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

function parametersOf(address: string, body: string | undefined): Map<string, string> {
  const parameters = new Map(URL.canParse(address) ? new URL(address).searchParams : [])
  if (!body) return parameters
  try {
    for (const [key, value] of Object.entries(JSON.parse(body) as Record<string, unknown>))
      if (typeof value === 'string' || typeof value === 'number') parameters.set(key, String(value))
  } catch {
    for (const [key, value] of new URLSearchParams(body)) parameters.set(key, value)
  }
  return parameters
}
