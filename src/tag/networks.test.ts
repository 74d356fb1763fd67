import { beforeEach, describe, expect, it, vi } from 'vitest'
import { partCode } from '../core/signals/codePlaces'
import { type Called, callNetworks } from './networks'
import { NotRun, place } from './place'

vi.mock('./place', () => ({ NotRun: class extends Error {}, place: vi.fn() }))
const placed = vi.mocked(place)

const network = (id: string, event: string) => ({
  id,
  base: `<script>base("${id}")</script>`,
  event: partCode(event),
  slots: { order: { slot: 'purchase', value: '35.00', currency: 'EUR' } },
})
const kelpie = network(
  'kelpie',
  '<script>told("{event}", {value}, "{currency}", "{event_id}", "{test}")</script>',
)

/** What a page hears of, told once; all of its networks have been tried when it ends. */
async function told(networks: (typeof kelpie)[], facts: object, { test = false, result = 'order' } = {}) {
  const said: Called[] = []
  callNetworks(networks, test, called => said.push(called))(result, { id: 'e1', ...facts })
  await vi.waitFor(() => expect(said).toHaveLength(result === 'order' ? networks.length : 0))
  const code = placed.mock.calls.map(([markup]) => markup).filter(markup => !markup.includes('base('))
  return { said, code }
}

describe('networks that the tag calls', () => {
  beforeEach(() => {
    placed.mockReset()
    placed.mockResolvedValue(undefined)
  })

  it.each([
    ['its own amount', { value: '20.00', currency: 'USD' }, '20.00, "USD"'],
    ['an amount in the account’s currency', { value: '20.00' }, '20.00, "EUR"'],
    ['nothing: what is usual', {}, '35.00, "EUR"'],
    // 35 euros are not 35 yen.
    ['a currency without an amount: what is usual, in the account’s', { currency: 'JPY' }, '35.00, "EUR"'],
  ])('hear of %s', async (_, facts, worth) => {
    const { code } = await told([kelpie], facts)
    expect(code).toEqual([`<script>told("purchase", ${worth}, "e1", "")</script>`])
  })

  it('hear of a transaction under one ID however often it is told', async () => {
    const { code } = await told([kelpie], { transaction: 'T1' })
    expect(code[0]).toContain('"order.T1"')
  })

  it('hear of a test only where they can tell it from the real thing', async () => {
    const blind = network('whyfold', '<script>seen({value})</script>')
    const { said, code } = await told([kelpie, blind], {}, { test: true })
    expect(said.map(({ network: of, how }) => [of, how]).sort()).toEqual([
      ['kelpie', 'called'],
      ['whyfold', 'held_back'],
    ])
    expect(code).toEqual([expect.stringContaining('"yes")')])
  })

  it('are said not to have heard where their code did not load, or the page forbids it', async () => {
    placed.mockImplementation(async markup => {
      if (markup.includes('base("kelpie")')) throw new Error('not loaded')
      if (markup.includes('seen(')) throw new NotRun()
    })
    const { said } = await told([kelpie, network('whyfold', '<script>seen({value})</script>')], {})
    expect(Object.fromEntries(said.map(({ network: of, how }) => [of, how]))).toEqual({
      kelpie: 'not_loaded',
      whyfold: 'not_run',
    })
  })

  it('hear of no result that they have no name for', async () => {
    const { code } = await told([kelpie], {}, { result: 'booklet' })
    expect(code).toEqual([])
  })
})
