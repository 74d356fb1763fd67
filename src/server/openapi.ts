import { OpenAPIRegistry, OpenApiGeneratorV31, type RouteConfig } from '@asteasolutions/zod-to-openapi'
import * as z from 'zod'
import { arrivalProblems, kindsOfArrival } from '@/core/intake/arrivalFilter'
import { orderMessageSchema } from '@/core/intake/orderMessage'
import { fileKinds } from '@/core/intake/records'
import { reportMappingSchema } from '@/core/intake/reports/mapping'
import { exportMappingSchema } from '@/core/intake/shopExport/mapping'
import { levels } from '@/core/intake/tree'
import { linkChangeSchema } from '@/core/links/change'
import { namingRuleSchema } from '@/core/links/naming'
import { profileSchema } from '@/core/links/profile'
import { sourceKinds } from '@/core/links/sources'
import { listedKinds } from '@/core/weigh/lists'
import { moveListSchema } from '@/core/weigh/moves'
import { openings } from '@/core/weigh/openings'
import {
  anyArrival,
  arrivalsOfAds,
  comparison,
  day,
  decision,
  describedTest,
  entityRow,
  findings,
  found,
  gapParts,
  gatheredArrivals,
  health,
  imported,
  instantMs,
  judgement,
  keptMoves,
  laterBought,
  metOther,
  minorUnits,
  minutes,
  openedFigure,
  opening,
  orderAside,
  orderTaken,
  planRow,
  reconciliation,
  refused,
  text,
  triedLink,
  turns,
  weighPart,
  weighRow,
  whole,
} from './answerSchemas'
import { viewsOfPages } from './compute/namesOfViews'
import { newDecisionSchema } from './decisions'
import { recordKinds } from './exportRecords'
import { atNetworkSchema, newMovesSchema, practiceDaysSchema } from './moves'
import { reconcileParts } from './reconcileParts'
import { workspaceFileSchema } from './workspaceFile'

const period = { from: day.optional(), to: day.optional() }
const scope = { network: text.optional() }
const result = text.optional().describe('the ID of the result that is judged; order where none is named')
const csv = { 'text/csv': { schema: text } }
const json = (schema: z.ZodType) => ({ 'application/json': { schema } })
const answer = (description: string, schema?: z.ZodType) => ({
  description,
  ...(schema && { content: json(schema) }),
})
const inText = (description: string, type: string) => ({ description, content: { [type]: { schema: text } } })
const wrong = answer('what is wrong, in words', refused)
const away = answer('the database does not answer; try again', refused)

/** Every operation of the application, by the schemas that its handlers read and answer by. */
export const operations: RouteConfig[] = [
  {
    method: 'get',
    path: '/api/health',
    summary: 'Whether application, database and collector are well',
    responses: { 200: answer('their state', health), 503: answer('the database does not answer', health) },
  },
  {
    method: 'get',
    path: '/api/opening',
    summary: 'How far the evidence has come that a page waits for after a start',
    request: { query: z.object({ view: z.enum(viewsOfPages), result }) },
    responses: { 200: answer('the stage; null where nobody waits', opening), 400: wrong, 503: away },
  },
  {
    method: 'get',
    path: '/api/metrics',
    summary: 'The state of the application’s work: OpenMetrics, or plain text where that is asked for',
    responses: { 200: inText('the metrics', 'application/openmetrics-text') },
  },
  {
    method: 'post',
    path: '/api/import/{kind}',
    summary: 'Take in one exchange file',
    request: {
      params: z.object({ kind: z.enum(fileKinds as [string, ...string[]]) }),
      headers: z.object({
        'x-file-name': text.optional().describe('its name, percent-encoded'),
        'x-job': text.optional().describe('an ID by which it can be cancelled'),
      }),
      body: { required: true, content: csv },
    },
    responses: {
      200: answer('how many rows went in, and why others did not', imported),
      400: wrong,
      404: wrong,
      413: wrong,
      503: away,
    },
  },
  {
    method: 'delete',
    path: '/api/jobs/{id}',
    summary: 'Cancel the taking in of a file; its own answer says what went in',
    request: { params: z.object({ id: text }) },
    responses: { 204: { description: 'it stops' }, 404: wrong },
  },
  {
    method: 'get',
    path: '/api/decisions',
    summary: 'What was settled by hand and holds',
    responses: { 200: answer('the decisions', z.array(decision)), 503: away },
  },
  {
    method: 'post',
    path: '/api/decisions',
    summary: 'Settle by hand what an order is, which order a claim is, or which customers are one',
    request: { body: { required: true, content: json(newDecisionSchema) } },
    responses: { 200: answer('the decision', decision), 400: wrong, 503: away },
  },
  {
    method: 'delete',
    path: '/api/decisions/{id}',
    summary: 'Take back what was settled by hand',
    request: { params: z.object({ id: text }) },
    responses: {
      200: answer('which one', z.strictObject({ undone: text })),
      404: wrong,
      503: away,
    },
  },
  {
    method: 'post',
    path: '/api/orders',
    summary: 'Take one order of the shop, signed by the Standard Webhooks specification',
    request: {
      headers: z.object({ 'webhook-id': text, 'webhook-timestamp': text, 'webhook-signature': text }),
      body: { required: true, content: json(orderMessageSchema) },
    },
    responses: {
      200: answer('taken; older than what is known, or sent again, it changes nothing', orderTaken),
      202: answer('set aside for want of an exchange rate', orderAside),
      400: wrong,
      401: wrong,
      413: wrong,
      422: wrong,
      503: away,
    },
  },
  {
    method: 'get',
    path: '/api/judge',
    summary: 'Cost per result, gap and capture, as the command line gives them',
    request: {
      query: z.object({
        level: z.enum(levels as unknown as [string, ...string[]]).optional(),
        ...period,
        result,
      }),
    },
    responses: { 200: answer('the judgement', judgement), 400: wrong, 503: away },
  },
  {
    method: 'get',
    path: '/api/compare',
    summary:
      'What changed between two periods: price, appeal, conversion and capture, as the command line gives it',
    request: {
      query: z.object({
        first: text.describe('FROM..TO, both days included'),
        second: text,
        network: text.optional(),
        campaign: text.optional(),
        result,
      }),
    },
    responses: { 200: answer('the comparison', comparison), 400: wrong, 503: away },
  },
  {
    method: 'get',
    path: '/api/reconcile/below',
    summary: 'The gap of ad sets and ads',
    request: { query: z.object({ ...scope, ...period, result }) },
    responses: { 200: answer('each by its path', gapParts), 400: wrong, 503: away },
  },
  {
    method: 'get',
    path: '/api/reconcile/turns',
    summary: 'The days on which capture or the real cost changed, of all days',
    request: { query: z.object({ ...scope, result }) },
    responses: { 200: answer('the days, where there are any', turns), 400: wrong, 503: away },
  },
  {
    method: 'get',
    path: '/api/reconcile/{what}',
    summary: 'What a part of Reconcile shows, with the settings that made it; amounts in minor units',
    request: {
      params: z.object({ what: z.enum(Object.keys(reconcileParts) as [string, ...string[]]) }),
      query: z.object({
        ...scope,
        ...period,
        result,
        first: text.optional().describe('FROM..TO, with which what changed is compared'),
      }),
    },
    responses: { 200: answer('what it shows', reconciliation), 400: wrong, 404: wrong, 503: away },
  },
  {
    method: 'get',
    path: '/api/figure',
    summary: 'The orders, claims and days behind one figure, 300 of each at a time',
    request: {
      query: z.object({
        figure: z.enum(Object.keys(openings) as [string, ...string[]]),
        ...scope,
        campaign: text.optional(),
        ad_set: text.optional(),
        ad: text.optional(),
        part: text.optional(),
        value: text.optional(),
        nowhere: z.literal('yes').optional(),
        ...period,
        result,
        skip: whole.optional(),
        days: z.enum(['all', 'billed']).optional().describe('billed: without days that are not billed yet'),
      }),
    },
    responses: { 200: answer('the figure as it opens', openedFigure), 400: wrong, 503: away },
  },
  {
    method: 'get',
    path: '/api/weigh',
    summary: 'The ad sets and ads of Weigh',
    request: { query: z.object({ ...scope, ...period, result }) },
    responses: { 200: answer('its rows', z.array(weighRow)), 503: away },
  },
  {
    method: 'get',
    path: '/api/weigh/lists',
    summary: 'What to leave out and keep of a network’s sources, placements or keywords, in its own columns',
    request: { query: z.object({ network: text, kind: z.enum(listedKinds), ...period, result }) },
    responses: { 200: inText('the list', 'text/csv'), 400: wrong, 503: away },
  },
  {
    method: 'get',
    path: '/api/weigh/{what}',
    summary: 'What columns and panels of Weigh show once they are looked at',
    request: {
      params: z.object({ what: z.enum(['sparks', 'conversions', 'steps', 'plan', 'rules']) }),
      query: z.object({
        ...scope,
        ...period,
        result,
        journey: text.optional().describe('of steps: the ID of a journey'),
        rules: text.optional().describe('of rules: plain rules as JSON'),
      }),
    },
    responses: { 200: answer('by path', weighPart), 400: wrong, 404: wrong, 503: away },
  },
  {
    method: 'get',
    path: '/api/results/later',
    summary: 'What those of whom a result came about later bought',
    request: { query: z.object({ result, days: whole.optional() }) },
    responses: {
      200: answer('for each; null where nobody’s days are over', laterBought.nullable()),
      400: wrong,
      503: away,
    },
  },
  {
    method: 'get',
    path: '/api/moves',
    summary: 'The moves that were decided on, the latest first',
    responses: { 200: answer('the lists', z.array(keptMoves)), 503: away },
  },
  {
    method: 'post',
    path: '/api/moves',
    summary: 'Make a plan into moves, each with its forecast',
    request: {
      query: z.object({ ...scope, ...period, result }),
      body: { required: true, content: json(newMovesSchema) },
    },
    responses: { 200: answer('the list', moveListSchema), 400: wrong, 503: away },
  },
  {
    method: 'delete',
    path: '/api/moves/{id}',
    summary: 'Take moves back',
    request: { params: z.object({ id: text }) },
    responses: {
      200: answer('which list', z.strictObject({ undone: text })),
      404: wrong,
      503: away,
    },
  },
  {
    method: 'get',
    path: '/api/moves/{id}/sheet',
    summary: 'Moves as the change sheet of one network',
    request: { params: z.object({ id: text }), query: z.object({ network: text }) },
    responses: { 200: inText('the sheet', 'text/csv'), 404: wrong, 503: away },
  },
  {
    method: 'post',
    path: '/api/moves/{id}/applied',
    summary: 'Apply moves at a practice network',
    request: {
      params: z.object({ id: text }),
      body: { required: true, content: json(atNetworkSchema) },
    },
    responses: {
      200: answer('what was applied', z.strictObject({ applied: text, network: text })),
      400: wrong,
      409: wrong,
      503: away,
    },
  },
  {
    method: 'post',
    path: '/api/practice/day',
    summary: 'Let the practice market go on by some days; of the demo alone',
    request: { body: { required: true, content: json(practiceDaysSchema) } },
    responses: {
      200: answer('its day then', z.strictObject({ day })),
      400: wrong,
      404: wrong,
      502: wrong,
      503: away,
    },
  },
  {
    method: 'get',
    path: '/api/find',
    summary: 'Ads, orders, saved links and rules by a part of their name or ID',
    request: { query: z.object({ q: text.optional() }) },
    responses: { 200: answer('the first of each', z.array(found)), 503: away },
  },
  {
    method: 'get',
    path: '/api/arrivals',
    summary: 'The latest arrivals, and how many came by the minute',
    request: {
      query: z.object({
        kind: z.enum(kindsOfArrival).optional(),
        ...scope,
        campaign: text.optional(),
        result: text.optional(),
        problem: z.enum([...arrivalProblems, 'any']).optional(),
        version: text.optional(),
      }),
    },
    responses: {
      200: answer(
        'them, or none while nothing has arrived since that version',
        z.strictObject({
          version: whole,
          arrivals: z.array(anyArrival).nullable(),
          minutes: minutes.optional(),
        }),
      ),
      503: away,
    },
  },
  {
    method: 'get',
    path: '/api/arrivals/way',
    summary: 'All that one click led to, in order of time',
    request: { query: z.object({ click: text }) },
    responses: {
      200: answer(
        'its steps',
        z.array(z.strictObject({ kind: text, id: text, at: instantMs, what: text, where: text })),
      ),
      400: wrong,
      503: away,
    },
  },
  {
    method: 'get',
    path: '/api/arrivals/stream',
    summary: 'Server-sent events: the workspace’s version, whenever something has arrived',
    responses: { 200: inText('the events', 'text/event-stream') },
  },
  {
    method: 'post',
    path: '/api/check-page',
    summary: 'Check the tags of a page as it is fetched, or of a saved page or recorded visit',
    request: {
      query: z.object({ page: z.url(), kind: z.enum(['html', 'har']).optional() }),
      body: { content: { 'text/html': { schema: text } } },
    },
    responses: {
      200: answer('the findings', z.strictObject({ page: text, findings })),
      400: wrong,
      413: wrong,
      503: away,
    },
  },
  {
    method: 'get',
    path: '/api/hand-off',
    summary: 'What a developer installs on the site, as Markdown',
    responses: { 200: inText('the sheet', 'text/markdown'), 503: away },
  },
  {
    method: 'get',
    path: '/api/live-test',
    summary: 'The latest live test as far as it has come',
    responses: {
      200: answer('the test, or null', describedTest.nullable()),
      503: away,
    },
  },
  {
    method: 'get',
    path: '/api/links',
    summary: 'Every campaign, ad set and ad, the tag plans, and what links are made from',
    responses: {
      200: answer(
        'the station',
        z.strictObject({
          entities: z
            .array(entityRow)
            .describe('network, level, ID, campaign, ad set, name, page, straight, placed'),
          plans: z.array(planRow).describe('network, level, ad or ad set or campaign or network, parameters'),
          formerNames: z.record(text, z.array(text)).describe('by `network/level/id`, oldest first'),
          profiles: z.array(profileSchema),
          hosts: z.array(text),
          keys: z.strictObject({ campaign_key: text, ad_set_key: text, ad_key: text }),
          tracked: z
            .record(text, z.record(text, text))
            .describe('addresses of the tracking domain, by network and landing page'),
          saved: z.record(text, text).describe('addresses of saved links, by `network/ad`'),
          namingRules: z.array(namingRuleSchema.safeExtend({ id: text })),
          practised: z.array(text),
        }),
      ),
      503: away,
    },
  },
  {
    method: 'post',
    path: '/api/links/changes',
    summary: 'Change tag plans, and where ads lead, all or none',
    request: { body: { required: true, content: json(z.array(linkChangeSchema)) } },
    responses: {
      200: answer(
        'stored, with what somebody else had changed meanwhile',
        z.strictObject({ changed: whole, met: whole, others: z.array(metOther) }),
      ),
      400: wrong,
      413: wrong,
      415: wrong,
      503: away,
    },
  },
  {
    method: 'get',
    path: '/api/links/arrivals',
    summary: 'What arrived of every planned parameter in the last days; with by=ad, of each ad’s',
    request: { query: z.object({ by: z.literal('ad').optional() }) },
    responses: {
      200: answer('the parameters, or ads', z.union([gatheredArrivals, arrivalsOfAds])),
      503: away,
    },
  },
  {
    method: 'post',
    path: '/api/links/try',
    summary: 'Follow a link hop by hop',
    request: { body: { required: true, content: json(z.object({ address: z.string().max(8192) })) } },
    responses: {
      200: answer('its hops and what became of each parameter', triedLink),
      400: wrong,
      415: wrong,
    },
  },
  {
    method: 'get',
    path: '/api/links/sources',
    summary: 'Clicks of a source, keyword, placement or device, those that brought an order first',
    request: {
      query: z.object({
        by: z.enum(sourceKinds as unknown as [string, ...string[]]),
        of: text,
        value: z.array(text),
        ...period,
      }),
    },
    responses: {
      200: answer(
        'the clicks',
        z.array(
          z.strictObject({
            id: text,
            at: instantMs,
            ad: text.nullable(),
            earlier: z.boolean(),
            order: z.strictObject({ id: text, share: z.number(), value: minorUnits }).nullable(),
          }),
        ),
      ),
      400: wrong,
      503: away,
    },
  },
  {
    method: 'get',
    path: '/api/links/csv',
    summary: 'Ads with what stands in each field of their network, as CSV',
    request: { query: z.object({ ad: z.array(text).optional(), network: z.array(text).optional() }) },
    responses: { 200: inText('the CSV', 'text/csv'), 503: away },
  },
  {
    method: 'post',
    path: '/api/links/csv',
    summary: 'The same for many ads, each as network/ID',
    request: { body: { required: true, content: json(z.array(text)) } },
    responses: { 200: inText('the CSV', 'text/csv'), 400: wrong, 413: wrong, 415: wrong, 503: away },
  },
  {
    method: 'get',
    path: '/api/profiles/{id}',
    summary: 'A network profile, to be kept and imported elsewhere',
    request: { params: z.object({ id: text }) },
    responses: { 200: answer('the profile', profileSchema), 404: wrong, 503: away },
  },
  {
    method: 'get',
    path: '/api/profile-schema.json',
    summary: 'The JSON Schema of a network profile',
    responses: {
      200: {
        description: 'the schema',
        content: { 'application/schema+json': { schema: z.looseObject({ type: text }) } },
      },
    },
  },
  {
    method: 'get',
    path: '/api/openapi.json',
    summary: 'This description',
    responses: { 200: answer('the description', z.looseObject({ openapi: text })) },
  },
  {
    method: 'post',
    path: '/api/reports/{step}',
    summary: 'Look at a network’s report, compare it with what is held, or take it in',
    request: {
      params: z.object({ step: z.enum(['look', 'compare', 'take']) }),
      query: z.object({ network: text }),
      headers: z.object({
        'x-mapping': text
          .optional()
          .describe('the mapping as JSON, percent-encoded; needed to compare and to take'),
        'x-file-name': text.optional(),
        'x-job': text.optional(),
      }),
      body: { required: true, content: csv },
    },
    responses: {
      200: answer(
        'what was found, what it would change, or what was taken in',
        z.union([
          z.looseObject({ header: z.array(text), mapping: reportMappingSchema }),
          z.looseObject({ days: z.array(z.looseObject({ day })), rejectedCount: whole }),
          z.looseObject({ accepted: whole, days: whole, rejected: whole }),
        ]),
      ),
      400: wrong,
      404: wrong,
      413: wrong,
      503: away,
    },
  },
  {
    method: 'post',
    path: '/api/shop-export/{step}',
    summary: 'Look at a shop’s export of any columns, compare it with what is held, or take it in',
    request: {
      params: z.object({ step: z.enum(['look', 'compare', 'take']) }),
      headers: z.object({
        'x-mapping': text
          .optional()
          .describe('the mapping as JSON, percent-encoded; needed to compare and to take'),
        'x-file-name': text.optional(),
        'x-job': text.optional(),
      }),
      body: { required: true, content: csv },
    },
    responses: {
      200: answer(
        'what was found, what it would change, or what was taken in',
        z.union([
          z.looseObject({ header: z.array(text), mapping: exportMappingSchema }),
          z.looseObject({ orders: whole, fresh: whole, rejectedCount: whole }),
          z.looseObject({ accepted: whole, duplicates: whole, rejected: whole }),
        ]),
      ),
      400: wrong,
      404: wrong,
      413: wrong,
      503: away,
    },
  },
  {
    method: 'get',
    path: '/api/reports/pull',
    summary: 'The report of a practice network, as it gives it',
    request: { query: z.object({ network: text, ...period }) },
    responses: { 200: inText('the report', 'text/csv'), 404: wrong, 502: wrong },
  },
  {
    method: 'get',
    path: '/api/sources',
    summary: 'Sources that orders carry and that name no network yet, of those that may be one',
    responses: {
      200: answer('each with its orders', z.array(z.object({ source: text, orders: whole }))),
      503: away,
    },
  },
  {
    method: 'post',
    path: '/api/which-file',
    summary: 'What a file seems to be: a file of records, something of the shop’s, or a network’s report',
    request: {
      headers: z.object({ 'x-file-name': text.optional() }),
      body: { required: true, content: csv },
    },
    responses: {
      200: answer(
        'where it belongs; null where it could be anything',
        z.object({
          place: z
            .union([
              z.object({ to: z.literal('import'), kind: z.enum(fileKinds) }),
              z.object({ to: z.literal('shop') }),
              z.object({ to: z.literal('report'), network: text.nullable() }),
            ])
            .nullable(),
          problem: text.optional(),
        }),
      ),
      413: wrong,
      503: away,
    },
  },
  {
    method: 'get',
    path: '/api/export/{what}',
    summary: 'Records of a period as CSV, results each with its ad, or all of all days as a ZIP archive',
    request: {
      params: z.object({ what: z.enum([...recordKinds, 'conversions', 'set-aside', 'all']) }),
      query: z.object({ ...period, ...scope, result }),
    },
    responses: { 200: inText('the file', 'text/csv'), 400: wrong, 404: wrong, 503: away },
  },
  {
    method: 'get',
    path: '/api/workspace',
    summary: 'What the workspace has settled, as JSON that another one takes in; without records and secrets',
    responses: { 200: answer('the workspace', workspaceFileSchema), 503: away },
  },
  {
    method: 'post',
    path: '/api/workspace/{step}',
    summary: 'Say what a workspace’s file would change, or take it in: all of it, or nothing',
    request: {
      params: z.object({ step: z.enum(['compare', 'take']) }),
      query: z.object({ exact: z.literal('yes').optional().describe('whether all else is taken out') }),
      body: { required: true, content: json(workspaceFileSchema) },
    },
    responses: {
      200: answer(
        'what it would change, or what was before',
        z.union([
          z.looseObject({
            settings: z.array(z.looseObject({ name: text })),
            parts: z.record(text, z.looseObject({ fresh: whole, changed: whole, same: whole })),
          }),
          z.object({ before: workspaceFileSchema }),
        ]),
      ),
      400: wrong,
      404: wrong,
      409: wrong,
      413: wrong,
      503: away,
    },
  },
]

/** The application's interface for other programs, by the OpenAPI specification 3.1. */
export function describeInterface(version: string) {
  const registry = new OpenAPIRegistry()
  for (const operation of operations) registry.registerPath(operation)
  return new OpenApiGeneratorV31(registry.definitions).generateDocument({
    openapi: '3.1.0',
    info: { title: 'Aequant', version, description: 'What one result cost, with the evidence behind it.' },
  })
}
