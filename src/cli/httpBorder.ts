import type { IncomingMessage, Server, ServerResponse } from 'node:http'

/** Methods that something here answers. */
const METHODS = ['GET', 'HEAD', 'OPTIONS', 'POST', 'PUT', 'PATCH', 'DELETE']

/** Why a request cannot be served whatever it asks for; null for one that can. */
export function malformed({
  method = '',
  url = '',
}: Pick<IncomingMessage, 'method' | 'url'>): { status: 400 | 405; error: string } | null {
  if (!METHODS.includes(method))
    return { status: 405, error: `${method} is not answered here. There are: ${METHODS.join(', ')}.` }
  const path = url.split('?', 1)[0] ?? ''
  try {
    decodeURIComponent(path)
    return null
  } catch {
    return {
      status: 400,
      error: `The address ${path.slice(0, 200)} is not percent-encoded UTF-8. Copy it again.`,
    }
  }
}

/** Answers such requests before whoever else listens to the server: what is behind it fails without words. */
export function guardServer(server: Server): Server {
  const emit = server.emit.bind(server)
  server.emit = (event: string, ...given: unknown[]) => {
    const [request, response] = given as [IncomingMessage, ServerResponse]
    const problem = event === 'request' ? malformed(request) : null
    if (!problem) return emit(event, ...given)
    response.writeHead(problem.status, {
      'content-type': 'application/json; charset=utf-8',
      connection: 'close',
      ...(problem.status === 405 && { allow: METHODS.join(', ') }),
    })
    response.end(JSON.stringify({ error: problem.error }))
    return true
  }
  return server
}
