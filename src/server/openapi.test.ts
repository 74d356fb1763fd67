import { existsSync } from 'node:fs'
import { expect, it } from 'vitest'
import { describeInterface } from './openapi'

it('describes routes that are there, and each of their parameters', () => {
  const { openapi, paths } = JSON.parse(JSON.stringify(describeInterface('1.2.3')))
  expect(openapi).toMatch(/^3\.1/)
  for (const [path, operations] of Object.entries<
    Record<string, { parameters?: { name: string; in: string }[] }>
  >(paths)) {
    expect(existsSync(`src/app${path.replace(/\{(\w+)\}/g, '[$1]')}/route.ts`), path).toBe(true)
    for (const { parameters = [] } of Object.values(operations)) {
      const inPath = parameters.filter(p => p.in === 'path').map(p => `{${p.name}}`)
      expect(path.match(/\{\w+\}/g) ?? []).toEqual(inPath)
    }
  }
})
