import { createHash } from 'node:crypto'
import { existsSync, readFileSync } from 'node:fs'
import type { IncomingMessage, ServerResponse } from 'node:http'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'

const CACHE_SECONDS = 3600
const MOST_SITES = 1000

interface Packed {
  plain: Buffer
  small: Buffer
  etag: string
}
function pack(plain: Buffer): Packed {
  const hash = createHash('sha256').update(plain).digest('hex').slice(0, 16)
  return { plain, small: gzipSync(plain, { level: 9 }), etag: `"${hash}"` }
}

/** A script of the tag as it was built, kept compressed; a browser asks again only whether it has changed. */
export function readTag(name: 'aq.js' | 'aq-test.js') {
  const file = join(process.cwd(), 'dist', name)
  const script = existsSync(file) ? readFileSync(file) : Buffer.from('')
  const alone = pack(script)
  const bySite = new Map<string, Packed>()

  /** The script with what it does on a site before it: one request less on every page. */
  function withDoing(doing: string): Packed {
    let packed = bySite.get(doing)
    if (!packed) {
      if (bySite.size >= MOST_SITES) bySite.clear()
      bySite.set(doing, (packed = pack(Buffer.concat([Buffer.from(`self.aequantDoing=${doing};`), script]))))
    }
    return packed
  }

  /** @param along what the tag does on the site, as JSON, and for how many seconds that may be kept */
  function serve(
    request: IncomingMessage,
    response: ServerResponse,
    along?: { doing: string; seconds: number },
  ): void {
    const { plain, small, etag } = along ? withDoing(along.doing) : alone
    const headers = {
      etag,
      'cache-control': `public, max-age=${along?.seconds ?? CACHE_SECONDS}`,
      'content-type': 'text/javascript; charset=utf-8',
      'access-control-allow-origin': '*',
      vary: 'accept-encoding',
    }
    if (request.headers['if-none-match'] === etag) {
      response.writeHead(304, headers).end()
      return
    }
    const zipped = /\bgzip\b/.test(String(request.headers['accept-encoding'] ?? ''))
    response.writeHead(200, zipped ? { ...headers, 'content-encoding': 'gzip' } : headers)
    response.end(zipped ? small : plain)
  }
  return { serve }
}
