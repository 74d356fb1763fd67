import { readFileSync } from 'node:fs'
import { expect, it } from 'vitest'

interface Locked {
  dev?: boolean
  devOptional?: boolean
  resolved?: string
}
const { packages } = JSON.parse(readFileSync('package-lock.json', 'utf8')) as {
  packages: Record<string, Locked>
}

it('installs for production no tool of development, one bundler, and runs no script of a package', () => {
  const production = Object.entries(packages).flatMap(([path, { dev, devOptional }]) =>
    dev || devOptional ? [] : [path],
  )
  const names = (part: RegExp) => production.filter(path => part.test(path))
  expect(names(/playwright|vitest|biome|drizzle-kit|knip|dependency-cruiser|fast-check|autocannon/)).toEqual(
    [],
  )
  expect(names(/\/esbuild$/)).toEqual(['node_modules/esbuild'])
  expect(readFileSync('.npmrc', 'utf8')).toContain('ignore-scripts=true')
  expect(Object.values(packages).filter(p => p.resolved)).toEqual([])
})
