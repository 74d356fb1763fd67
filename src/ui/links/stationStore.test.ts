import fc from 'fast-check'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { EntityRow } from '@/core/links/account'
import { type LinkChange, type Parameters, scopeKey } from '@/core/links/change'
import { shippedProfiles } from '@/core/links/profiles'
import { type HeldNow, rebase } from '@/core/links/rebase'
import type { StationData } from '@/server/links/station'
import { createStationStore, type StationServer } from './stationStore'

const scopes = ['a1', 'a2', 'a3']
const entities: EntityRow[] = scopes.map(id => ['norrfeed', 'ad', id, 'c1', 's1', id, null, true, null])

/** A server that keeps what it is sent, answers when it is told to, and can be out of order. */
function standIn() {
  const plans = new Map<string, Parameters>()
  const sent: LinkChange[][] = []
  const outside = { broken: false, slow: null as Promise<void> | null, fetches: 0 }
  const data = (): StationData => ({
    entities,
    formerNames: {},
    plans: [...plans].map(([scope, own]) => ['norrfeed', 'ad', scope, own]),
    profiles: [...shippedProfiles],
    hosts: [],
    keys: { campaign_key: 'utm_campaign', ad_set_key: 'utm_term', ad_key: 'utm_content' },
    tracked: {},
    saved: {},
    namingRules: [],
    practised: [],
  })
  const server: StationServer = {
    async fetch() {
      outside.fetches += 1
      const answer = JSON.stringify(data())
      await outside.slow
      return answer
    },
    fetchArrived: async () => ({}),
    async store(changes) {
      if (outside.broken) throw new Error('the server is away')
      sent.push([...changes])
      const held: HeldNow = { plans: new Map(), leads: new Map() }
      for (const [scope, own] of plans)
        held.plans.set(scopeKey({ network: 'norrfeed', level: 'ad', scope }), own)
      const { changes: rebased, met } = rebase(changes, held)
      for (const c of rebased) if (c.what === 'plan') plans.set(c.scope, c.after)
      return met
    },
  }
  const store = createStationStore(server)
  const shown = (scope: string) =>
    store.read().held?.plans.get(scopeKey({ network: 'norrfeed', level: 'ad', scope })) ?? {}
  const set = (scope: string, after: Parameters, under: string | null = null) =>
    store.apply(
      [{ what: 'plan', network: 'norrfeed', level: 'ad', scope, before: shown(scope), after }],
      under,
    )
  return { store, plans, sent, outside, shown, set }
}

beforeEach(() => {
  vi.useFakeTimers()
})
afterEach(() => {
  vi.useRealTimers()
})
const later = (ms: number) => vi.advanceTimersByTimeAsync(ms)

describe('changes of the station', () => {
  it('show at once and are stored together a moment later', async () => {
    const { store, set, shown, sent, plans } = standIn()
    await store.load()
    set('a1', { x: '1' })
    set('a2', { x: '2' })
    expect([shown('a1'), sent]).toEqual([{ x: '1' }, []])
    await later(1000)
    expect(sent.map(changes => changes.length)).toEqual([2])
    expect(Object.fromEntries(plans)).toEqual({ a1: { x: '1' }, a2: { x: '2' } })
    expect(store.read().saving).toBe(false)
  })

  it('are one step as long as they are typed into one field, and undone in one', async () => {
    const { store, set, shown, plans } = standIn()
    await store.load()
    for (const x of ['w', 'wi', 'win']) set('a1', { x }, 'a1 x')
    set('a2', { y: '1' })
    expect(store.read().steps).toBe(2)
    store.undo()
    store.undo()
    await later(1000)
    expect([shown('a1'), shown('a2'), store.read().steps]).toEqual([{}, {}, 0])
    expect([...plans.values()].flatMap(own => Object.keys(own))).toEqual([])
    store.undo()
    expect(store.read().said.text).toBe('Nothing to undo.')
  })

  it('that cannot be stored are kept, said, and tried again with what came after', async () => {
    const { store, set, outside, plans } = standIn()
    await store.load()
    outside.broken = true
    set('a1', { x: '1' })
    await later(1000)
    expect(store.read().said).toEqual({
      text: 'Not stored yet (the server is away). It is kept here and tried again.',
      bad: true,
    })
    set('a2', { x: '2' })
    await later(1000)
    outside.broken = false
    await later(10_000)
    expect(Object.fromEntries(plans)).toEqual({ a1: { x: '1' }, a2: { x: '2' } })
    expect(store.read().said.bad).toBe(false)
  })

  it('stand through an answer that was on its way when they were made', async () => {
    const { store, set, shown, outside, plans } = standIn()
    await store.load()
    plans.set('a3', { from: 'elsewhere' })
    let answer = () => {}
    outside.slow = new Promise(done => {
      answer = done
    })
    const loading = store.load()
    await later(0)
    set('a1', { x: '1' })
    await later(1000)
    answer()
    await loading
    expect([shown('a1'), shown('a3')]).toEqual([{ x: '1' }, { from: 'elsewhere' }])
  })

  it('stand beside those of somebody else, who is shown and told of', async () => {
    const { store, set, shown, plans } = standIn()
    await store.load()
    set('a1', { ours: '1' })
    plans.set('a1', { theirs: '2' })
    await later(1000)
    expect(plans.get('a1')).toEqual({ ours: '1', theirs: '2' })
    expect(shown('a1')).toEqual({ ours: '1', theirs: '2' })
    const met = { what: 'plan', network: 'norrfeed', level: 'ad', scope: 'a1', key: 'theirs', theirs: '2' }
    expect(store.read().met).toEqual([{ ...met, replaced: false }])
    store.readMet()
    expect(store.read().met).toEqual([])
    // Undo takes back what was done here, and nothing of the other's.
    store.undo()
    await later(1000)
    expect(plans.get('a1')).toEqual({ theirs: '2' })
  })

  it('that replaced those of somebody else give them back when they are undone', async () => {
    const { store, set, shown, plans } = standIn()
    plans.set('a1', { key: 'first' })
    await store.load()
    set('a1', { key: 'ours' })
    plans.set('a1', { key: 'theirs' })
    await later(1000)
    expect([plans.get('a1'), store.read().met]).toEqual([
      { key: 'ours' },
      [expect.objectContaining({ key: 'key', theirs: 'theirs', replaced: true })],
    ])
    store.undo()
    await later(1000)
    expect([plans.get('a1'), shown('a1')]).toEqual([{ key: 'theirs' }, { key: 'theirs' }])
  })

  it('lead, whatever their order, to the same on the screen, at the server, and in a screen opened anew', async () => {
    const step = fc.oneof(
      fc.record({ do: fc.constant('set' as const), scope: fc.constantFrom(...scopes), x: fc.string() }),
      fc.record({ do: fc.constantFrom('undo' as const, 'wait' as const, 'load' as const, 'break' as const) }),
    )
    await fc.assert(
      fc.asyncProperty(fc.array(step, { maxLength: 14 }), async steps => {
        const { store, set, shown, outside, plans } = standIn()
        await store.load()
        for (const one of steps) {
          if (one.do === 'set') set(one.scope, { x: one.x })
          else if (one.do === 'undo') store.undo()
          else if (one.do === 'wait') await later(600)
          else if (one.do === 'load') void store.load()
          else outside.broken = !outside.broken
        }
        outside.broken = false
        const seen = Object.fromEntries(scopes.map(scope => [scope, shown(scope)]))
        await later(30_000)
        await store.flush()
        expect(Object.fromEntries(scopes.map(scope => [scope, shown(scope)]))).toEqual(seen)
        expect(Object.fromEntries(scopes.map(scope => [scope, plans.get(scope) ?? {}]))).toEqual(seen)
      }),
    )
  })
})

describe('the station', () => {
  it('shows at once what was known, and changes nothing when nothing is new', async () => {
    const { store, outside, plans, shown } = standIn()
    await store.load()
    const known = store.read().held
    await store.load()
    expect([outside.fetches, store.read().held]).toEqual([2, known])
    plans.set('a3', { from: 'elsewhere' })
    await store.load()
    expect(shown('a3')).toEqual({ from: 'elsewhere' })
  })

  it('says why it has nothing, and has it when it is asked again', async () => {
    const { store, outside } = standIn()
    outside.slow = Promise.reject(new Error('the server answered 500'))
    outside.slow.catch(() => {})
    await store.load()
    expect(store.read()).toMatchObject({
      held: null,
      problem: 'The ads could not be fetched: the server answered 500.',
    })
    outside.slow = null
    await store.load()
    expect(store.read()).toMatchObject({ problem: null })
    expect(store.read().held?.ads).toHaveLength(3)
  })

  it('looks at what arrived from time to time until somebody leaves', async () => {
    const { store } = standIn()
    let told = 0
    const unsubscribe = store.subscribe(() => {
      told += 1
    })
    const leave = store.watchArrivals()
    await later(0)
    expect([store.read().arrived, told]).toEqual([{}, 1])
    await later(60_000)
    // The same answer again is nothing new.
    expect(told).toBe(1)
    leave()
    unsubscribe()
    expect(vi.getTimerCount()).toBe(0)
  })
})
