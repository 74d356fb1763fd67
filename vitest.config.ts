import { availableParallelism } from 'node:os'
import { fileURLToPath } from 'node:url'
import { defineConfig } from 'vitest/config'

export default defineConfig({
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  test: {
    include: ['src/**/*.test.ts', 'tests/database/*.test.ts'],
    globalSetup: 'tests/temporary.ts',
    setupFiles: 'vitest.setup.ts',
    // Both cores of a small machine: one is left free otherwise.
    maxWorkers: availableParallelism(),
    testTimeout: 60_000,
    hookTimeout: 60_000,
  },
})
