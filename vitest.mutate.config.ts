import { defineConfig, mergeConfig } from 'vitest/config'
import usual from './vitest.config'

/** The tests that speak for one folder: `npm run mutate` runs them once for each fault. */
const folders = (process.env.MUTATED_TESTS ?? 'src').split(',')

export default mergeConfig(
  { ...usual, test: { ...usual.test, include: [] } },
  defineConfig({
    test: {
      include: folders.map(one => (one.endsWith('.ts') ? one : `${one}/**/*.test.ts`)),
      bail: 1,
      // What keeps no state shares one thread among its test files, which is started once for each fault.
      isolate: folders.some(one => /^src\/(server|collector)/.test(one)),
    },
  }),
)
