import { createHash } from 'node:crypto'
import { existsSync, readFileSync } from 'node:fs'
import type { IncomingMessage, ServerResponse } from 'node:http'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'

const CACHE_SECONDS = 3600

/** A script of the tag as it was built, kept compressed; a browser asks again only whether it has changed. */
export function readTag(name: 'aq.js' | 'aq-test.js') {
  const file = join(process.cwd(), 'dist', name)
  const script = existsSync(file) ? readFileSync(file) : Buffer.from('')
  const packed = gzipSync(script, { level: 9 })
  const etag = `"${createHash('sha256').update(script).digest('hex').slice(0, 16)}"`
  const serve = (request: IncomingMessage, response: ServerResponse): void => {
    const headers = {
      etag,
      'cache-control': `public, max-age=${CACHE_SECONDS}`,
      'content-type': 'text/javascript; charset=utf-8',
      'access-control-allow-origin': '*',
      vary: 'accept-encoding',
    }
    if (request.headers['if-none-match'] === etag) {
      response.writeHead(304, headers).end()
      return
    }
    const small = /\bgzip\b/.test(String(request.headers['accept-encoding'] ?? ''))
    response.writeHead(200, small ? { ...headers, 'content-encoding': 'gzip' } : headers)
    response.end(small ? packed : script)
  }
  return { serve }
}
