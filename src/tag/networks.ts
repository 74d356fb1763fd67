import type { PlacedNetwork } from '../core/intake/routing'
import { fillPieces, networkEventId, TEST_MARK } from '../core/signals/fillCode'

// Networks' own codes, placed and called by our tag so that the site need not.

export interface Called {
  network: string
  result: string
  event_id: string
  how: 'called' | 'held_back' | 'not_loaded'
}
interface Told {
  id: string
  value?: string
  currency?: string
  transaction?: string
}

/** Puts markup into the page, its scripts run one after the other. Fails where one cannot be fetched. */
async function place(html: string): Promise<void> {
  const made = document.createElement('template')
  made.innerHTML = html.includes('<') ? html : '<script></script>'
  if (!html.includes('<')) made.content.firstElementChild!.textContent = html
  for (const node of [...made.content.children]) {
    if (node.tagName !== 'SCRIPT') {
      node.setAttribute('data-aq-placed', '')
      document.body.append(node)
      continue
    }
    // A script that was parsed into a template does not run: its copy does.
    const script = document.createElement('script')
    for (const { name, value } of node.attributes) script.setAttribute(name, value)
    script.setAttribute('data-aq-placed', '')
    script.textContent = node.textContent
    const loaded = new Promise((done, failed) => {
      script.onload = done
      script.onerror = failed
    })
    document.head.append(script)
    if (script.src) await loaded
  }
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
        value: value ?? known.value,
        currency: currency ?? known.currency,
        transaction: transaction ?? '',
        event_id,
        test: test ? TEST_MARK : '',
      })
      ready
        .get(network.id)
        ?.then(() => place(code))
        .then(
          () => say('called'),
          () => say('not_loaded'),
        )
    }
  }
}
