import { readdirSync, readFileSync } from 'node:fs'
import { expect, it } from 'vitest'
import { describeInterface } from './openapi'

/** Every operation that a route handler is there for, as the description writes it. */
const handlers = () =>
  readdirSync('src/app/api', { recursive: true, encoding: 'utf8' })
    .filter(file => file.endsWith('route.ts'))
    .flatMap(file => {
      const path = `/api/${file.replace(/\/route\.ts$/, '')}`.replace(/\[(\w+)\]/g, '{$1}')
      const source = readFileSync(`src/app/api/${file}`, 'utf8')
      return [...source.matchAll(/export const (GET|POST|PUT|PATCH|DELETE)\b/g)].map(
        ([, method]) => `${method!.toLowerCase()} ${path}`,
      )
    })

it('describes every operation, and none that is not there', () => {
  const { openapi, paths = {} } = describeInterface('1.2.3')
  expect(openapi).toMatch(/^3\.1/)
  const described = Object.entries(paths).flatMap(([path, own]) =>
    Object.keys(own).map(method => `${method} ${path}`),
  )
  expect(described.sort()).toEqual(handlers().sort())
})

it('says of each its parameters, what it takes and what it answers', () => {
  const described = JSON.parse(JSON.stringify(describeInterface('1.2.3')))
  for (const [path, operations] of Object.entries<Record<string, Described>>(described.paths))
    for (const [method, { summary, parameters = [], requestBody, responses }] of Object.entries(operations)) {
      const inPath = parameters.filter(p => p.in === 'path').map(p => `{${p.name}}`)
      expect(path.match(/\{\w+\}/g) ?? []).toEqual(inPath)
      expect([path, summary.length > 5]).toEqual([path, true])
      if (method === 'post') expect([path, requestBody]).toEqual([path, expect.anything()])
      expect(Object.keys(responses).some(status => status.startsWith('2'))).toBe(true)
      for (const answer of Object.values(responses)) expect(answer.description.length).toBeGreaterThan(3)
    }
})

interface Described {
  summary: string
  parameters?: { name: string; in: string }[]
  requestBody?: object
  responses: Record<string, { description: string }>
}
