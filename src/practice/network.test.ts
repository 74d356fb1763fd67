import { mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { shippedProfiles } from '@/core/links/profiles'
import { networkEventId } from '@/core/signals/fillCode'
import { fillOutgoing } from '@/core/signals/outgoing'
import { practiceNetwork } from './network'
import { factsBy, type StandIn, standIns } from './networks'

const NEVER = 1e9
const all = standIns(id => `http://${id}.localhost:4620`)
const open = (standIn: StandIn) =>
  practiceNetwork(
    { ...standIn, reportsAfterMs: NEVER },
    shippedProfiles.find(p => p.id === standIn.id)!,
    join(mkdtempSync(join(tmpdir(), 'aequant-net-')), 'state.json'),
  )
const ad = {
  campaign: { id: 'c', name: 'C' },
  ad_set: { id: 's', name: 'S' },
  ad: { id: 'a', name: 'A' },
  destination: 'https://tarnbrook.example/kits',
  parameters: '',
}
/** What the server interface is sent, by the network's own template. */
const byServer = (standIn: StandIn, transaction: string, ref: string, secret = standIn.key) => {
  const { address, headers, body } = fillOutgoing(standIn.outgoing, {
    account: standIn.account,
    event: standIn.slots.standard[0]!,
    event_id: networkEventId('order', transaction, ''),
    transaction,
    value: '149.00',
    currency: 'EUR',
    click_id: ref,
    at: '2026-11-20T10:00:00Z',
    at_seconds: '1795468847',
    secret,
  })
  const { pathname, searchParams } = new URL(address)
  return { path: pathname, query: searchParams, headers, body }
}
const byTag = (standIn: StandIn, transaction: string, ref: string) => {
  const names = standIn.tag.requests!.parameters
  const facts = {
    account: standIn.account,
    event: standIn.slots.standard[0]!,
    event_id: networkEventId('order', transaction, ''),
    transaction,
    value: '149.00',
    currency: 'EUR',
  }
  const query = new URLSearchParams(
    Object.entries(facts).map(([place, value]) => [names[place as keyof typeof facts] ?? place, value]),
  )
  return { ...factsBy(query, names), ref }
}

describe.each(all)('$name', standIn => {
  it('claims an order once, however often and by whichever way it hears of it', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.constantFrom('T1', 'T2', 'T3'), fc.boolean()), { minLength: 1, maxLength: 15 }),
        tellings => {
          const network = open(standIn)
          network.takeAds([ad])
          const { ref } = network.clickOut('a', false, Date.now())!
          const claimed = tellings.flatMap(([transaction, server]) => {
            const outcome = server
              ? (
                  network.hearServer(byServer(standIn, transaction, ref), Date.now()).body as {
                    outcome: string
                  }
                ).outcome
              : network.hear(byTag(standIn, transaction, ref), 'tag', Date.now())
            return outcome === 'claimed' ? [transaction] : []
          })
          expect(new Set(claimed).size).toBe(claimed.length)
          expect(claimed.length).toBeGreaterThan(0)
        },
      ),
      { numRuns: 15 },
    )
  })
  it('claims nothing of who opted out, nor without its key, nor for another account', () => {
    const network = open(standIn)
    network.takeAds([ad])
    const out = network.clickOut('a', true, Date.now())!
    expect(network.hear(byTag(standIn, 'T1', out.ref), 'tag', Date.now())).toBe('no_click')
    expect(network.hearServer(byServer(standIn, 'T1', '', 'wrong'), Date.now()).status).toBe(401)
    const { ref } = network.clickOut('a', false, Date.now())!
    const other = { ...byTag(standIn, 'T1', ref), account: 'somebody' }
    expect(network.hear(other, 'tag', Date.now())).toBe('other_account')
    expect(network.hear({ ...byTag(standIn, 'T1', ref), test: true }, 'tag', Date.now())).toBe('test')
  })
  it('claims nothing once its window has closed, and answers by an error when it is in trouble', () => {
    const network = open(standIn)
    network.takeAds([ad])
    const { ref } = network.clickOut('a', false, Date.now() - 91 * 86_400_000)!
    expect(network.hear(byTag(standIn, 'T1', ref), 'tag', Date.now())).toBe('too_old')
    network.makeTrouble(1)
    expect(network.hearServer(byServer(standIn, 'T1', ref), Date.now()).status).toBe(503)
    expect(network.hearServer(byServer(standIn, 'T1', ref), Date.now()).status).toBe(200)
  })
})
