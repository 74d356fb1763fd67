import type { ZodType } from 'zod'
import { ownRequest } from '@/core/shared/ownRequest'
import { operations } from '@/server/openapi'
import { demoFor } from './application'
import { expect, test } from './test'

const app = demoFor()

/** The schema by which the description says that an operation answers with a status. */
function schemaOf(method: string, path: string, status: number): ZodType | undefined {
  const operation = operations.find(
    o => o.method === method && new RegExp(`^${o.path.replace(/\{\w+\}/g, '[^/]+')}$`).test(path),
  )
  const answer = operation?.responses[status]
  if (!answer) throw new Error(`${method} ${path} answers ${status}, which is not described.`)
  const { content } = answer as { content?: Record<string, { schema: ZodType }> }
  return content?.['application/json']?.schema ?? content?.['application/schema+json']?.schema
}

const csv = { 'content-type': 'text/csv' }
const json = { 'content-type': 'application/json' }
const bad = 'order_id,ordered_at,status,currency,total\nX,soon,paid,EUR,1.00\n'
test('answers as it is described', async ({ request }) => {
  const report = 'Day,Campaign,Ad,Cost\n2026-11-02,Autumn kits,Oak & wool,1.00\n'
  const mapping = encodeURIComponent(
    JSON.stringify({
      columns: { date: 'Day', campaign_name: 'Campaign', ad_name: 'Ad', spend: 'Cost' },
      date_order: 'ymd',
      decimal: '.',
      currency: 'EUR',
      time_zone: 'UTC',
    }),
  )
  const figures = [
    'orders',
    'claims',
    'matched',
    'tracked',
    'cost',
    'roas',
    'spend',
    'value_differs',
    'shared',
  ]
  const asked: [
    method: 'get' | 'post' | 'delete',
    path: string,
    status: number,
    body?: string,
    headers?: Record<string, string>,
  ][] = [
    ['get', '/api/health', 200],
    ['get', '/api/judge?level=ad', 200],
    ['get', '/api/judge?level=none', 400],
    ...figures.map(figure => ['get', `/api/figure?figure=${figure}`, 200] as ['get', string, number]),
    ['get', '/api/figure?figure=network_capture&network=norrfeed', 200],
    ['get', '/api/figure?figure=nothing', 400],
    ['get', '/api/opening?view=weigh', 200],
    ['get', '/api/opening?view=nothing', 400],
    ['get', '/api/sources', 200],
    ['get', '/api/weigh', 200],
    ['get', '/api/weigh/sparks', 200],
    ['get', '/api/weigh/conversions?network=norrfeed', 200],
    ['get', '/api/weigh/plan', 200],
    ['get', '/api/weigh/steps?journey=an-order', 200],
    ['get', '/api/weigh/steps?journey=nothing', 404],
    ['get', `/api/weigh/rules?rules=${encodeURIComponent('[{"when":"no_result","lines":2}]')}`, 200],
    ['get', '/api/weigh/rules?rules=nothing', 400],
    ['get', '/api/weigh/lists?kind=source', 400],
    ['get', '/api/weigh/nothing', 404],
    ['get', '/api/results/later?result=booklet&days=30', 200],
    ['get', '/api/results/later?days=0', 400],
    ['get', '/api/moves', 200],
    ['post', '/api/moves', 400, '{}', json],
    ['post', '/api/moves/none/applied', 409, '{"network":"norrfeed"}', json],
    ['post', '/api/moves/none/applied', 400, '{}', json],
    ['delete', '/api/moves/none', 404],
    ['get', '/api/moves/none/sheet?network=norrfeed', 404],
    ['post', '/api/practice/day', 400, '{"days":0}', json],
    ...['balance', 'changed', 'bench', 'rules'].map(
      what => ['get', `/api/reconcile/${what}`, 200] as ['get', string, number],
    ),
    ['get', '/api/reconcile/nothing', 404],
    ['get', '/api/reconcile/below?network=norrfeed', 200],
    ['get', '/api/reconcile/turns', 200],
    ['get', '/api/reconcile/balance?result=nothing', 400],
    ['get', '/api/find?q=a', 200],
    ['get', '/api/find?q=P', 200],
    ['get', '/api/arrivals', 200],
    ['get', '/api/arrivals/way', 400],
    ['get', '/api/arrivals/way?click=none', 200],
    ['get', '/api/live-test', 200],
    ['get', '/api/links', 200],
    ['get', '/api/links/arrivals', 200],
    ['get', '/api/links/arrivals?by=ad', 200],
    ['get', '/api/links/sources?by=placement&of=norrfeed&value=feed', 200],
    ['get', '/api/links/sources?by=nothing', 400],
    ['get', '/api/profiles/kelpie', 200],
    ['get', '/api/profiles/nobody', 404],
    ['get', '/api/profile-schema.json', 200],
    ['get', '/api/openapi.json', 200],
    ['get', '/api/reports/pull?network=no one', 404],
    ['post', '/api/import/orders', 200, bad, csv],
    ['post', '/api/import/orders', 400, 'nothing', csv],
    ['post', '/api/import/nothing', 404, 'nothing', csv],
    ['post', '/api/orders', 401, '{}', json],
    ['post', '/api/check-page?page=nowhere', 400, '<p>', { 'content-type': 'text/html' }],
    [
      'post',
      '/api/check-page?page=https://tarnbrook.example/thanks',
      200,
      '<p>',
      { 'content-type': 'text/html' },
    ],
    ['post', '/api/links/changes', 200, '[]', json],
    ['post', '/api/links/changes', 400, '[{}]', json],
    ['post', '/api/links/changes', 415, '[]', { 'content-type': 'text/plain' }],
    ['post', '/api/links/try', 400, '{}', json],
    [
      'post',
      '/api/links/try',
      200,
      JSON.stringify({ address: `${app.norrfeed.replace('norrfeed', 'shop.tarnbrook')}/kits` }),
      json,
    ],
    ['post', '/api/links/try', 200, '{"address":"https://nobody.example/"}', json],
    ['post', '/api/links/csv', 400, '{}', json],
    ['post', '/api/reports/look?network=norrfeed', 200, report, csv],
    ['post', '/api/reports/compare?network=norrfeed', 200, report, { ...csv, 'x-mapping': mapping }],
    ['post', '/api/reports/compare?network=norrfeed', 400, report, csv],
    ['post', '/api/reports/nothing?network=norrfeed', 404, report, { ...csv, 'x-mapping': mapping }],
    ['delete', '/api/jobs/none', 404],
  ]
  for (const [method, address, status, body, headers] of asked) {
    const answer = await request.fetch(app.origin + address, {
      method,
      headers: { ...ownRequest, ...headers },
      ...(body !== undefined && { data: body }),
    })
    expect([method, address, answer.status()]).toEqual([method, address, status])
    const schema = schemaOf(method, address.split('?')[0]!, status)
    const read = schema?.safeParse(await answer.json())
    expect([method, address, read?.error?.issues.slice(0, 3) ?? []]).toEqual([method, address, []])
  }
  for (const [path, type] of [
    ['/api/metrics', 'openmetrics-text'],
    ['/api/hand-off', 'text/markdown'],
    ['/api/links/csv?network=norrfeed', 'text/csv'],
    ['/api/weigh/lists?network=parkfold&kind=source', 'text/csv'],
  ] as const)
    expect((await request.get(app.origin + path)).headers()['content-type']).toContain(type)
})
