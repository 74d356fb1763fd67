import { settingsSchema } from '@/core/intake/settings'
import { shippedProfiles } from '@/core/links/profiles'
import { type Journey, journeySchema } from '@/core/signals/journey'
import { type ResultDefinition, resultSchema } from '@/core/signals/result'
import { type Rule, ruleSchema } from '@/core/signals/rule'
import type { Database } from '@/data/connect'
import { saveJourney } from '@/data/journeys'
import { saveRelaySecret } from '@/data/relays'
import { saveDefinition, saveRule, saveSlot } from '@/data/signals'
import { saveProfile } from '@/data/workspace'
import { standIns } from '@/practice/networks'
import { practiceOrigin } from '@/server/practice'

const { currency } = settingsSchema.parse({ currency: 'EUR' })
const result = (id: string, name: string, more: Partial<ResultDefinition>): ResultDefinition =>
  resultSchema.parse({
    id,
    name,
    kind: 'lead',
    currency,
    value: { by: 'event' },
    count: 'once',
    ...more,
  })

/** What counts at Tarnbrook Looms. */
const definitions = [
  result('order', 'Order', { kind: 'order', count: 'every' }),
  result('booklet', 'Pattern booklet', { value: { by: 'fixed', amount: 300 } }),
  result('parcel', 'Monthly yarn parcel', {
    kind: 'subscription',
    value: { by: 'lifetime', price: 2400, periods: 500 },
  }),
  result('fitting-call', 'Fitting call', { kind: 'call', value: { by: 'fixed', amount: 9500 } }),
  result('course', 'Weaving course', { kind: 'order', count: 'every' }),
]

/** The rules that tell each result, by their IDs. */
export const demoRules = { order: 'order-on-thanks', booklet: 'booklet-form', call: 'call-form' }

const element = (attribute: string) => ({ from: 'element' as const, selector: '[data-order]', attribute })
const rules: Rule[] = [
  ruleSchema.parse({
    id: demoRules.order,
    result: 'order',
    when: { on: 'page' },
    where: { any: [{ by: 'equals', text: '/thanks' }] },
    facts: {
      value: element('data-value'),
      currency: element('data-currency'),
      transaction: element('data-order'),
    },
  }),
  ruleSchema.parse({
    id: demoRules.booklet,
    result: 'booklet',
    when: { on: 'form_sent', selector: '#booklet' },
    where: { any: [{ by: 'equals', text: '/booklet' }] },
  }),
  ruleSchema.parse({
    id: demoRules.call,
    result: 'fitting-call',
    when: { on: 'form_sent', selector: '#fitting-call' },
    where: { any: [{ by: 'equals', text: '/fitting-call' }] },
  }),
]

/** What each network calls our results. The first one's code stands on the site, the others' in our tag. */
const slots: Record<string, Record<string, string>> = {
  norrfeed: { order: 'purchase', booklet: 'sign_up' },
  kelpie: { order: 'purchase', booklet: 'lead', 'fitting-call': 'call' },
  mothwire: { order: 'purchase', booklet: 'event_x' },
  guildpost: { order: 'deal', 'fitting-call': 'request' },
  whyfold: { order: 'bought', booklet: 'joined' },
}
const placedBySite = 'norrfeed'
const relayed = ['norrfeed', 'kelpie', 'mothwire', 'whyfold']
/** What the networks that our server tells call an order. */
export const relayedSlots: Record<string, string> = Object.fromEntries(
  relayed.map(network => [network, slots[network]!.order!]),
)

const page = (...texts: [by: 'equals' | 'starts_with' | 'contains', text: string][]) => ({
  on: 'page' as const,
  where: { any: texts.map(([by, text]) => ({ by, text })), none: [] },
})
const journeys: Journey[] = [
  journeySchema.parse({
    id: 'an-order',
    name: 'To an order',
    steps: [
      {
        id: 'arrival',
        name: 'Arrival',
        by: page(['equals', '/kits'], ['equals', '/booklet'], ['equals', '/']),
      },
      { id: 'booklet', name: 'Pattern booklet', by: { on: 'result', result: 'booklet' }, optional: true },
      { id: 'kit', name: 'Kit page', by: page(['contains', '/kits/']) },
      { id: 'basket', name: 'Basket', by: page(['starts_with', '/basket']) },
      { id: 'checkout', name: 'Checkout', by: page(['starts_with', '/buy/']) },
      { id: 'order', name: 'Order', by: { on: 'result', result: 'order' } },
    ],
  }),
  journeySchema.parse({
    id: 'fitting-call',
    name: 'To a fitting call',
    steps: [
      {
        id: 'arrival',
        name: 'Arrival',
        by: page(['equals', '/kits'], ['equals', '/booklet'], ['equals', '/']),
      },
      { id: 'floor-looms', name: 'Floor looms', by: page(['equals', '/floor-looms']) },
      { id: 'ask', name: 'Call page', by: page(['equals', '/fitting-call']) },
      { id: 'call', name: 'Fitting call', by: { on: 'result', result: 'fitting-call' } },
    ],
  }),
]

/** Fills what counts in the demo, how the tag hears of it, and how the practice networks do. */
export async function fillSignals(database: Database, workspace: string, now: number): Promise<void> {
  for (const definition of definitions) await saveDefinition(database, workspace, definition)
  for (const rule of rules) await saveRule(database, workspace, rule)
  for (const journey of journeys) await saveJourney(database, workspace, journey)
  for (const [network, own] of Object.entries(slots))
    for (const [result, slot] of Object.entries(own))
      await saveSlot(database, workspace, network, result, slot)
  for (const { id, account, tag, outgoing, slots, key } of standIns(practiceOrigin)) {
    await saveProfile(database, workspace, {
      ...shippedProfiles.find(p => p.id === id)!,
      account,
      tag,
      outgoing,
      slots,
      placed_by: id === placedBySite ? 'site' : 'tag',
      ...(relayed.includes(id) ? { relayed_since: new Date(now).toISOString() } : {}),
    })
    await saveRelaySecret(database, workspace, id, key)
  }
}
