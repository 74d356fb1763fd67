import { mkdtemp, readFile, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import { settingsSchema } from '@/core/intake/settings'
import { shippedProfiles } from '@/core/links/profiles'
import { journeySchema } from '@/core/signals/journey'
import { resultSchema } from '@/core/signals/result'
import type { Database } from '@/data/connect'
import { saveJourney } from '@/data/journeys'
import { applyChanges } from '@/data/links'
import { saveNamingRule } from '@/data/namingRules'
import { saveMapping } from '@/data/reports'
import { saveDefinition, saveRule, saveSlot } from '@/data/signals'
import { openTestDatabase } from '@/data/testDatabase'
import { createWorkspace, findWorkspace } from '@/data/workspace'
import { importFile } from './import/importFile'
import {
  compareWorkspaceFile,
  fileParts,
  readWorkspaceFile,
  takeWorkspaceFile,
  type WorkspaceFile,
  writeWorkspace,
} from './workspaceFile'

let database: Database
let stop: () => Promise<void>
beforeAll(async () => {
  ;({ database, stop } = await openTestDatabase())
  await createWorkspace(database, 'other', 'Other', settingsSchema.parse({}), [])
  // The workspace that the collector leads by.
  await createWorkspace(database, 'main', 'Main', settingsSchema.parse({}), [])
  await saveDefinition(
    database,
    'w',
    resultSchema.parse({
      id: 'lead',
      name: 'Lead',
      kind: 'lead',
      currency: 'EUR',
      value: { by: 'fixed', amount: 300 },
      count: 'once',
      margin: 0.9,
    }),
  )
  await saveSlot(database, 'w', 'kelpie', 'lead', 'contact')
  await saveRule(database, 'w', {
    id: 'r1',
    name: 'Thanks',
    result: 'lead',
    when: { on: 'page' },
    where: { any: [{ by: 'equals', text: '/thanks' }], none: [] },
    once: 'page',
    facts: {},
    paused: false,
  } as never)
  await saveJourney(database, 'w', journeySchema.parse({ id: 'j1', name: 'To a lead', steps }))
  await saveNamingRule(database, 'w', 'n1', {
    level: 'campaign',
    networks: [],
    separator: '_',
    parts: [{ name: 'theme', kind: 'text' }],
  } as never)
  await applyChanges(database, 'w', [
    {
      what: 'plan',
      network: 'kelpie',
      level: 'account',
      scope: '',
      before: {},
      after: { b: '1', a: '{ad.id}' },
    },
  ])
  await saveMapping(database, 'w', 'kelpie', { columns: { date: 'Day' } })
})
afterAll(() => stop())
const steps = ['lead', 'order'].map(result => ({ id: result, name: result, by: { on: 'result', result } }))
const here = async (id = 'w') => (await findWorkspace(database, id))!
const written = async (id = 'w') => writeWorkspace(database, await here(id))
const read = (file: unknown) => readWorkspaceFile(JSON.stringify(file)) as WorkspaceFile

describe('what a workspace has settled', () => {
  it('is taken in by another one as it was written, the order of parameters included', async () => {
    const file = await written()
    for (const part of fileParts) expect([part, file[part].length > 0]).toEqual([part, true])
    const other = await here('other')
    const difference = await compareWorkspaceFile(database, other, read(file))
    expect(difference.parts.networks).toMatchObject({ fresh: shippedProfiles.length, changed: 0, same: 0 })
    expect(difference.name).toEqual({ before: 'Other', after: 'Test' })
    expect(difference.settings).toContainEqual({
      name: 'time_zone',
      before: 'UTC',
      after: 'Europe/Lisbon',
    })
    const before = await written('other')
    const outcome = await takeWorkspaceFile(database, other, read(file), false)
    expect(JSON.stringify(await written('other'))).toBe(JSON.stringify(file))
    const again = await compareWorkspaceFile(database, await here('other'), read(file))
    expect([again.name, again.settings]).toEqual([null, []])
    for (const part of fileParts) expect(again.parts[part]).toMatchObject({ fresh: 0, changed: 0 })
    // Its undo is the file of before, with nothing beside it.
    expect(outcome).toEqual({ before })
    await takeWorkspaceFile(database, await here('other'), read(before), true)
    expect(await written('other')).toEqual(before)
  })
  it('is what clicks are led by from then on', async () => {
    const folder = await mkdtemp(join(tmpdir(), 'aequant-'))
    vi.stubEnv('AEQUANT_DATA', folder)
    const fallback_address = 'https://tarnbrook.example/elsewhere'
    const file = await written()
    await takeWorkspaceFile(
      database,
      await here('main'),
      read({ ...file, settings: { ...file.settings, fallback_address } }),
      false,
    )
    expect(JSON.parse(await readFile(join(folder, 'routing.json'), 'utf8'))).toMatchObject({
      fallback: fallback_address,
    })
    vi.unstubAllEnvs()
    await rm(folder, { recursive: true })
  })
  it('is refused whole where its currency cannot be counted in', async () => {
    await importFile(
      database,
      await here('other'),
      'orders',
      'order_id,ordered_at,status,currency,total\nA,2026-10-01T10:00:00Z,paid,EUR,10.00\n',
    )
    const before = await written('other')
    const file = await written()
    const pounds = { ...file, settings: { ...file.settings, currency: 'GBP' } }
    expect(await takeWorkspaceFile(database, await here('other'), read(pounds), false)).toEqual({
      problem: expect.stringContaining('no rate into GBP'),
    })
    expect(await written('other')).toEqual(before)
  })
  it('is told from what is none, with what is wrong and where', async () => {
    const file = await written()
    const problem = (text: string) => (readWorkspaceFile(text) as { problem: string }).problem
    expect(problem('soon')).toContain('no JSON')
    expect(problem('{"format":"something"}')).toContain('no workspace of Aequant')
    expect(problem(JSON.stringify({ ...file, results: [{ id: 'x' }] }))).toContain('results.0.')
    const unsafe = {
      ...file.networks[0]!,
      tag: { base: '<script>/* {account} */</script>', event: '' },
    }
    expect(problem(JSON.stringify({ ...file, networks: [unsafe] }))).toContain('networks, Corvane, tag.base')
    expect(JSON.stringify(file)).not.toMatch(/secret/i)
  })
})
