import { createHash } from 'node:crypto'
import { existsSync, readFileSync } from 'node:fs'
import type { IncomingMessage, ServerResponse } from 'node:http'
import { join } from 'node:path'
import { brotliCompressSync, gzipSync } from 'node:zlib'
import Negotiator from 'negotiator'

const CACHE_SECONDS = 3600
const MOST_SITES = 1000

/** What a browser may be sent, the smallest first. */
const ENCODINGS = ['br', 'gzip', 'identity'] as const
type Encoding = (typeof ENCODINGS)[number]
interface Packed {
  as: Record<Encoding, Buffer>
  etag: string
}
function pack(plain: Buffer): Packed {
  const hash = createHash('sha256').update(plain).digest('hex').slice(0, 16)
  const as = { br: brotliCompressSync(plain), gzip: gzipSync(plain, { level: 9 }), identity: plain }
  return { as, etag: `"${hash}"` }
}

/** The smallest that the browser takes (RFC 9110, 12.5.3). */
function chooseEncoding(request: IncomingMessage): Encoding {
  const taken = new Negotiator(request).encodings([...ENCODINGS])
  return ENCODINGS.find(encoding => taken.includes(encoding)) ?? 'identity'
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
    const { as, etag } = along ? withDoing(along.doing) : alone
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
    const encoding = chooseEncoding(request)
    response.writeHead(200, encoding === 'identity' ? headers : { ...headers, 'content-encoding': encoding })
    response.end(as[encoding])
  }
  return { serve }
}
