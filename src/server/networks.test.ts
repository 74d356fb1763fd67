import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { usualStart } from '@/core/links/networkTemplates'
import type { Database } from '@/data/connect'
import { saveSlot } from '@/data/signals'
import { openTestDatabase } from '@/data/testDatabase'
import { findWorkspace, type Workspace } from '@/data/workspace'
import { importFile } from './import/importFile'
import { dropNetwork, knownNetworks, startNetwork } from './networks'
import { ensureWorkspace } from './workspace'

let database: Database
let stop: () => Promise<void>
let workspace: Workspace
beforeAll(async () => {
  ;({ database, stop } = await openTestDatabase())
  workspace = await ensureWorkspace(database)
})
afterAll(() => stop())
const names = async () => (await knownNetworks(database, 'main')).map(n => n.name)
const begin = (name: string, described?: string) =>
  startNetwork(
    database,
    workspace,
    { ...usualStart, name, template: 'percent', click_window_days: 7 },
    described,
  )

describe('the networks of a workspace', () => {
  it('are none at first, and each has a name of its own', async () => {
    expect(await names()).toEqual([])
    expect(await begin('Märchenfunk')).toEqual({ id: 'marchenfunk' })
    expect(await begin('märchenfunk ')).toEqual({ problem: 'There is a network called Märchenfunk already.' })
    expect(await begin('')).toEqual({ problem: 'Give the network a name.' })
    expect(await begin('Marchenfunk!')).toEqual({ id: 'marchenfunk-2' })
    expect(await names()).toEqual(['Märchenfunk', 'Marchenfunk!'].sort((a, b) => a.localeCompare(b)))
    const { settings } = (await findWorkspace(database, 'main'))!
    expect(settings.networks.find(n => n.id === 'marchenfunk')).toMatchObject({ click_window_days: 7 })
  })
  it('may be named by a file, and described afterwards under the ID that it has', async () => {
    const file =
      'date,network,campaign_id,currency,spend\n2026-10-01,odd one,c,EUR,5.00\n2026-10-03,fern,c,EUR,5.00\n'
    await importFile(database, workspace, 'delivery', file)
    const fern = async () => (await knownNetworks(database, 'main')).find(n => n.id === 'fern')
    expect(await fern()).toMatchObject({
      profile: null,
      first: '2026-10-03',
      last: '2026-10-03',
      claims: false,
    })
    expect(await begin('Fernlight', 'fern')).toEqual({ id: 'fern' })
    expect(await fern()).toMatchObject({ name: 'Fernlight', last: '2026-10-03' })
    expect(await begin('Odd one', 'odd one')).toHaveProperty('problem')
  })
  it('leave only where nothing is held of them and nothing names them', async () => {
    expect(await dropNetwork(database, workspace, 'fern')).toContain('Fernlight stays')
    await saveSlot(database, 'main', 'marchenfunk-2', 'order', 'sale')
    expect(await dropNetwork(database, workspace, 'marchenfunk-2')).toContain('a signal names it')
    await saveSlot(database, 'main', 'marchenfunk-2', 'order', '')
    expect(await dropNetwork(database, workspace, 'marchenfunk-2')).toBeNull()
    expect(await names()).not.toContain('Marchenfunk!')
  })
})
