import type { PlacedNetwork } from '../core/intake/routing'
import { fillPieces, networkEventId, TEST_MARK, worthTold } from '../core/signals/fillCode'
import { NotRun, place } from './place'

// Networks' own codes, placed and called by our tag so that the site need not.

export interface Called {
  network: string
  result: string
  event_id: string
  how: 'called' | 'held_back' | 'not_loaded' | 'not_run'
}
interface Told {
  id: string
  value?: string
  currency?: string
  transaction?: string
}

/** Networks in the order in which they are told; each is called once its base code is there. */
export function callNetworks(
  networks: readonly PlacedNetwork[],
  test: boolean,
  said: (called: Called) => void,
) {
  const ready = new Map(networks.map(n => [n.id, place(n.base)]))
  for (const loading of ready.values()) loading.catch(() => {})
  return (result: string, { id, value, currency, transaction }: Told): void => {
    for (const network of networks) {
      const known = network.slots[result]
      if (!known) continue
      const event_id = networkEventId(result, transaction, id)
      const say = (how: Called['how']) => said({ network: network.id, result, event_id, how })
      // A test that could not be told from the real thing is not told at all.
      if (test && !network.event.some(piece => typeof piece !== 'string' && piece.place === 'test')) {
        say('held_back')
        continue
      }
      const code = fillPieces(network.event, {
        event: known.slot,
        ...worthTold(value, currency, known),
        transaction: transaction ?? '',
        event_id,
        test: test ? TEST_MARK : '',
      })
      ready
        .get(network.id)
        ?.then(() => place(code))
        .then(
          () => say('called'),
          error => say(error instanceof NotRun ? 'not_run' : 'not_loaded'),
        )
    }
  }
}
