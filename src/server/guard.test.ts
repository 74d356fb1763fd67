import { describe, expect, it } from 'vitest'
import { contentPolicy, ownHosts, refuse } from './guard'

const hosts = ownHosts({ AEQUANT_HOSTS: 'Ads.tarnbrook.example, second.example' })
const ask = (method: string, path: string, headers: Record<string, string>) =>
  refuse({ method, path, address: path, header: name => headers[name] ?? null }, hosts)?.status ?? 200
const here = { host: 'localhost:4600' }
const fromHere = { ...here, origin: 'http://localhost:4600', 'sec-fetch-site': 'same-origin' }
const own = { 'x-aequant': '1' }

describe('who may ask', () => {
  it.each([
    ['localhost:4600', 200],
    ['127.0.0.1:4600', 200],
    ['[::1]:4600', 200],
    ['ADS.tarnbrook.example', 200],
    ['second.example:443', 200],
    ['evil.example', 421],
    ['localhost.evil.example:4600', 421],
    ['127.0.0.1.evil.example', 421],
    ['localhost:4600.evil.example', 421],
    ['shop.tarnbrook.localhost:4600', 421],
    ['', 421],
  ])('answers to its own names alone: %s', (host, status) => {
    expect(ask('GET', '/weigh', { host })).toBe(status)
    expect(ask('POST', '/api/import/orders', { host, ...own })).toBe(status)
  })
  it('takes no NUL in an address, and what only looks like one', () => {
    expect(
      ['/intake?campaign=a%00', '/intake/orders/%00', '/intake?q=%2500'].map(path => ask('GET', path, here)),
    ).toEqual([400, 400, 200])
  })
  it.each<[string, string, string, Record<string, string>, number]>([
    ['a script that says so', 'POST', '/api/import/orders', { ...here, ...own }, 200],
    ['a script that does not', 'POST', '/api/import/orders', here, 403],
    ['our own page', 'POST', '/api/links/changes', { ...fromHere, ...own }, 200],
    ['our own page’s action', 'POST', '/intake/routes', fromHere, 200],
    ['an action without a page', 'POST', '/intake/routes', here, 403],
    ['a form of another site', 'POST', '/intake/routes', { ...here, origin: 'https://evil.example' }, 403],
    ['a form of a page without origin', 'POST', '/intake/routes', { ...here, origin: 'null' }, 403],
    [
      'another port of this machine',
      'POST',
      '/intake/routes',
      { ...here, origin: 'http://localhost:4620' },
      403,
    ],
    [
      'another site, whatever it says',
      'POST',
      '/api/import/orders',
      { ...here, ...own, origin: 'https://evil.example' },
      403,
    ],
    [
      'another site that hides its origin',
      'POST',
      '/api/import/orders',
      { ...here, ...own, 'sec-fetch-site': 'cross-site' },
      403,
    ],
    [
      'the practice ground',
      'DELETE',
      '/api/links/changes',
      { ...here, ...own, 'sec-fetch-site': 'same-site' },
      403,
    ],
    ['the shop’s signed message', 'POST', '/api/orders', here, 200],
    [
      'a signed message out of a browser',
      'POST',
      '/api/orders',
      { ...here, 'sec-fetch-site': 'cross-site' },
      403,
    ],
    [
      'a link from another site',
      'GET',
      '/weigh',
      { ...here, 'sec-fetch-site': 'cross-site', 'sec-fetch-mode': 'navigate' },
      200,
    ],
    [
      'a figure asked by another site',
      'GET',
      '/api/judge',
      { ...here, 'sec-fetch-site': 'cross-site', 'sec-fetch-mode': 'no-cors' },
      403,
    ],
    ['a script that reads', 'GET', '/api/judge', here, 200],
  ])('%s', (_, method, path, headers, status) => {
    expect(ask(method, path, headers)).toBe(status)
  })
  it('lets pages run no script but their own, and nobody frame them', () => {
    const policy = contentPolicy('n1', false)
    expect(policy).toContain("script-src 'self' 'nonce-n1';")
    expect(policy).not.toContain('unsafe-eval')
    expect(policy).toContain("frame-ancestors 'none'")
  })
})
