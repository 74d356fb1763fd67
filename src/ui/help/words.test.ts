import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import ts from 'typescript'
import { expect, it } from 'vitest'
import { meaningOf } from './words'

const UI = join(__dirname, '..')

/** The text of an expression; what a template puts into it is a currency. Null where it is worked out. */
function textOf(node: ts.Expression): string | null {
  if (ts.isStringLiteralLike(node)) return node.text
  return ts.isTemplateExpression(node) ? `${node.head.text}EUR` : null
}

/** The headings of columns in a file that have no hint of their own: their `heading`, else their `id`. */
function headingsIn(file: string): string[] {
  const found: string[] = []
  const look = (node: ts.Node) => {
    if (ts.isObjectLiteralExpression(node)) {
      const of = new Map(node.properties.map(part => [part.name?.getText(), part]))
      const text = (name: string) => {
        const part = of.get(name)
        return part && ts.isPropertyAssignment(part) ? textOf(part.initializer) : null
      }
      const heading = of.has('heading') ? text('heading') : text('id')
      if (of.has('id') && of.has('value') && !of.has('hint') && heading) found.push(heading)
    }
    ts.forEachChild(node, look)
  }
  look(ts.createSourceFile(file, readFileSync(file, 'utf8'), ts.ScriptTarget.Latest, true))
  return found
}

it('says what every column of a table means', () => {
  const files = readdirSync(UI, { recursive: true, encoding: 'utf8' }).filter(
    path => /\.tsx?$/.test(path) && !/\.test\.|^gallery/.test(path),
  )
  const headings = files.flatMap(path => headingsIn(join(UI, path)).map(heading => ({ path, heading })))
  expect(headings.length).toBeGreaterThan(100)
  expect(headings.filter(({ heading }) => meaningOf(heading) === null)).toEqual([])
})
