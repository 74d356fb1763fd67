import type { IncomingMessage, ServerResponse } from 'node:http'

export function answer(
  response: ServerResponse,
  status: number,
  text: string,
  headers: Record<string, string> = {},
): void {
  response.writeHead(status, {
    'content-type': 'text/plain; charset=utf-8',
    'cache-control': 'no-store',
    'x-content-type-options': 'nosniff',
    ...headers,
  })
  response.end(status === 204 ? undefined : text)
}

/** A request that is not taken: the status says whose fault it is, the text what to do. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message)
  }
}

/**
 * A body, read no further than it may be long.
 *
 * @throws Refused
 */
export async function bodyOf(request: IncomingMessage, most: number): Promise<string> {
  const chunks: Buffer[] = []
  let size = 0
  for await (const chunk of request) {
    size += chunk.length
    if (size > most) throw new Refused(413, `A body holds at most ${most} bytes.`)
    chunks.push(chunk)
  }
  return Buffer.concat(chunks).toString('utf8')
}

/**
 * The JSON of a body.
 *
 * @throws Refused
 */
export function parseJson(body: string): unknown {
  try {
    return JSON.parse(body)
  } catch (error) {
    throw new Refused(400, `The body is not JSON: ${error instanceof Error ? error.message : ''}`)
  }
}
