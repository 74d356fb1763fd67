import * as z from 'zod'
import { orderMessageSchema } from '@/core/intake/orderMessage'
import { fileKinds } from '@/core/intake/records'
import { reportMappingSchema } from '@/core/intake/reports/mapping'
import { levels } from '@/core/intake/tree'
import { linkChangeSchema } from '@/core/links/change'
import { profileSchema } from '@/core/links/profile'

const json = (schema: object) => ({ 'application/json': { schema } })
const text = (type: string) => ({ [type]: { schema: { type: 'string' } } })
const answer = (description: string, content?: object) => ({ description, ...(content ? { content } : {}) })
const query = (name: string, schema: object, required = false) => ({ name, in: 'query', required, schema })
const string = { type: 'string' }
const date = { type: 'string', format: 'date' }
const whole = { type: 'integer', minimum: 0 }
const object = (properties: Record<string, object>) => ({ type: 'object', properties })
const list = (items: object) => ({ type: 'array', items })
const refused = answer('what is wrong, in words', json(object({ error: string })))

const importOutcome = object({
  accepted: whole,
  duplicates: whole,
  rejected: list(object({ line: whole, column: string, reason: string, value: string })),
})

/** The application's interface for other programs, by the OpenAPI specification 3.1. */
export const describeInterface = (version: string) => ({
  openapi: '3.1.0',
  info: { title: 'Aequant', version, description: 'What one result cost, with the evidence behind it.' },
  paths: {
    '/api/health': {
      get: {
        summary: 'Whether application, database and collector are well',
        responses: {
          200: answer(
            'their state',
            json(
              object({
                status: string,
                version: string,
                database: string,
                collector: object({
                  alive: { type: 'boolean' },
                  lag_records: whole,
                  lag_seconds: { type: 'number' },
                }),
              }),
            ),
          ),
        },
      },
    },
    '/api/import/{kind}': {
      post: {
        summary: 'Take in one exchange file',
        parameters: [{ name: 'kind', in: 'path', required: true, schema: { enum: fileKinds } }],
        requestBody: { required: true, content: text('text/csv') },
        responses: {
          200: answer('how many rows went in, and why others did not', json(importOutcome)),
          400: refused,
        },
      },
    },
    '/api/orders': {
      post: {
        summary: 'Take one order of the shop, signed by the Standard Webhooks specification',
        parameters: ['webhook-id', 'webhook-timestamp', 'webhook-signature'].map(name => ({
          name,
          in: 'header',
          required: true,
          schema: string,
        })),
        requestBody: { required: true, content: json(z.toJSONSchema(orderMessageSchema, { io: 'input' })) },
        responses: {
          200: answer('taken; older than what is known, or sent again, it changes nothing'),
          202: answer('set aside for want of an exchange rate'),
          400: refused,
          401: refused,
          422: refused,
          503: refused,
        },
      },
    },
    '/api/judge': {
      get: {
        summary: 'Cost per result, gap and capture',
        parameters: [query('level', { enum: levels }), query('from', date), query('to', date)],
        responses: {
          200: answer(
            'the judgement, as the command line gives it',
            json(
              object({
                settings: { type: 'object' },
                totals: { type: 'object' },
                rows: list({ type: 'object' }),
                gap: object({ orders: whole, claims: whole, causes: list({ type: 'object' }) }),
                capture: list({ type: 'object' }),
                findings: list({ type: 'object' }),
              }),
            ),
          ),
          400: refused,
        },
      },
    },
    '/api/profile-schema.json': {
      get: { summary: 'The JSON Schema of a network profile', responses: { 200: answer('the schema') } },
    },
    '/api/profiles/{id}': {
      get: {
        summary: 'A network profile, to be kept and imported elsewhere',
        parameters: [{ name: 'id', in: 'path', required: true, schema: string }],
        responses: {
          200: answer('the profile', json(z.toJSONSchema(profileSchema, { io: 'input' }))),
          404: refused,
        },
      },
    },
    '/api/links/changes': {
      post: {
        summary: 'Change tag plans, and where ads lead, all or none',
        requestBody: {
          required: true,
          content: json(list(z.toJSONSchema(linkChangeSchema, { io: 'input' }))),
        },
        responses: {
          200: answer('stored', json(object({ changed: whole, met: whole }))),
          400: refused,
          415: refused,
        },
      },
    },
    '/api/find': {
      get: {
        summary: 'Ads by a part of their name or ID, or of their campaign’s name',
        parameters: [query('q', string)],
        responses: { 200: answer('the first of them') },
      },
    },
    '/api/links/csv': {
      get: {
        summary: 'Ads with what stands in each field of their network, as CSV',
        parameters: [query('ad', string), query('network', string)],
        responses: { 200: answer('the CSV') },
      },
      post: {
        summary: 'The same for many ads, each as network/ID',
        requestBody: { required: true, content: json(list(string)) },
        responses: { 200: answer('the CSV'), 400: refused },
      },
    },
    '/api/links/sources': {
      get: {
        summary: 'Clicks by source, keyword, placement or device, those with an order first',
        parameters: [query('by', string, true), query('of', string, true), query('value', string)],
        responses: { 200: answer('the clicks'), 400: refused },
      },
    },
    '/api/reports/{step}': {
      post: {
        summary: 'Look at a network’s report, compare it with what is held, or take it in',
        parameters: [
          { name: 'step', in: 'path', required: true, schema: { enum: ['look', 'compare', 'take'] } },
          query('network', string, true),
          {
            name: 'x-mapping',
            in: 'header',
            description: 'percent-encoded; needed to compare and to take',
            content: json(z.toJSONSchema(reportMappingSchema, { io: 'input' })),
          },
        ],
        requestBody: { required: true, content: text('text/csv') },
        responses: { 200: answer('what was found, or taken in', json({ type: 'object' })), 400: refused },
      },
    },
    '/api/check-page': {
      post: {
        summary: 'Check the tags of a page or a recorded visit',
        parameters: [
          query('page', { type: 'string', format: 'uri' }, true),
          query('kind', { enum: ['html', 'har'] }),
        ],
        requestBody: { content: text('text/html') },
        responses: {
          200: answer('the findings', json(object({ page: string, findings: list({ type: 'object' }) }))),
          400: refused,
        },
      },
    },
  },
})
