import { type NextRequest, NextResponse } from 'next/server'
import { contentPolicy, ownHosts, refuse } from './server/guard'

const hosts = ownHosts(process.env)
const YEAR_SECONDS = 31_536_000

/** Stands before every page, action and route handler: who may ask, and what a page may load. */
export function proxy(request: NextRequest): NextResponse {
  const refusal = refuse(
    {
      method: request.method,
      path: request.nextUrl.pathname,
      address: request.url,
      header: name => request.headers.get(name),
    },
    hosts,
  )
  if (refusal) return NextResponse.json({ error: refusal.error }, { status: refusal.status })
  const nonce = btoa(crypto.randomUUID())
  const policy = contentPolicy(nonce, process.env.NODE_ENV !== 'production')
  const headers = new Headers(request.headers)
  headers.set('x-nonce', nonce)
  headers.set('content-security-policy', policy)
  const response = NextResponse.next({ request: { headers } })
  response.headers.set('content-security-policy', policy)
  response.headers.set('x-content-type-options', 'nosniff')
  response.headers.set('referrer-policy', 'same-origin')
  if (request.headers.get('x-forwarded-proto') === 'https')
    response.headers.set('strict-transport-security', `max-age=${YEAR_SECONDS}`)
  return response
}
