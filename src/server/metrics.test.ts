import { afterAll, beforeAll, expect, it, vi } from 'vitest'
import { keepAside } from '@/data/intake'
import { openTestDatabase } from '@/data/testDatabase'
import { writeMetrics } from './metrics'
import { ensureWorkspace } from './workspace'

let db: Awaited<ReturnType<typeof openTestDatabase>>
beforeAll(async () => {
  // Where no collector of anybody's answers.
  vi.stubEnv('COLLECTOR_PORT', '1')
  db = await openTestDatabase()
  await ensureWorkspace(db.database)
})
afterAll(() => {
  vi.unstubAllEnvs()
  return db.stop()
})

it('tells how the application’s work stands, in either text format', async () => {
  const item = { id: 'one', kind: 'row' as const, at: new Date(), reason: 'required', facts: {}, raw: '{}' }
  await keepAside(db.database, 'main', [item])
  const { type, text } = await writeMetrics(db.database, undefined)
  expect(type).toContain('openmetrics-text')
  expect(text.trimEnd().endsWith('# EOF')).toBe(true)
  for (const line of [
    'aequant_database_up 1',
    'aequant_set_aside 1',
    'aequant_drain_lag_records 0',
    'aequant_collector_up 0',
  ])
    expect(text.split('\n')).toContain(line)
  const plain = await writeMetrics(db.database, 'text/plain')
  expect(plain.type).toContain('text/plain')
  expect(plain.text).toContain('\naequant_set_aside 1\n')
})
