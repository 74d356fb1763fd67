import { afterAll, beforeAll, expect, it } from 'vitest'
import type { Database } from '@/data/connect'
import { openTestDatabase } from '@/data/testDatabase'
import { findWorkspace } from '@/data/workspace'
import { keepHosts } from './hosts'

let database: Database
let stop: () => Promise<void>
beforeAll(async () => {
  ;({ database, stop } = await openTestDatabase())
})
afterAll(() => stop())
const workspace = async () => (await findWorkspace(database, 'w'))!
const keep = async (...hosts: string[]) => keepHosts(database, await workspace(), hosts)
const kept = async () => (await workspace()).settings.hosts

it('keeps hosts once each, in lower case, and other settings as they were', async () => {
  const { hosts: _, ...before } = (await workspace()).settings
  expect(await keep(' Tarnbrook.example', '', 'tarnbrook.example', 'shop.tarnbrook.localhost')).toBeNull()
  expect(await kept()).toEqual(['tarnbrook.example', 'shop.tarnbrook.localhost'])
  expect((await workspace()).settings).toMatchObject(before)
})

it('refuses what is no host alone, says which, and keeps what was', async () => {
  for (const wrong of [
    'https://tarnbrook.example',
    'tarnbrook.example/kits',
    'a b.example',
    'user@tarnbrook.example',
    'tarnbrook.example?',
  ])
    expect(await keep('new.example', wrong)).toContain(`${wrong} is no host`)
  expect(await kept()).toEqual(['tarnbrook.example', 'shop.tarnbrook.localhost'])
})

it('forgets all of them when none is given', async () => {
  expect(await keep()).toBeNull()
  expect(await kept()).toEqual([])
})
