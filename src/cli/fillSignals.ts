import { settingsSchema } from '@/core/intake/settings'
import { shippedProfiles } from '@/core/links/profiles'
import { type ResultDefinition, resultSchema } from '@/core/signals/result'
import { type Rule, ruleSchema } from '@/core/signals/rule'
import type { Database } from '@/data/connect'
import { saveDefinition, saveRule, saveSlot } from '@/data/signals'
import { saveProfile } from '@/data/workspace'
import { ACCOUNT } from '@/practice/shop'
import { practiceOrigin } from '@/server/practice'

const { currency, credit } = settingsSchema.parse({ currency: 'EUR' })
const result = (id: string, name: string, more: Partial<ResultDefinition>): ResultDefinition =>
  resultSchema.parse({
    id,
    name,
    kind: 'lead',
    currency,
    value: { by: 'event' },
    count: 'once',
    click_window_days: 30,
    view_window_days: 0,
    credit,
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

const element = (attribute: string) => ({ from: 'element' as const, selector: '[data-order]', attribute })
const rules: Rule[] = [
  ruleSchema.parse({
    id: 'order-on-thanks',
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
    id: 'booklet-form',
    result: 'booklet',
    when: { on: 'form_sent', selector: '#booklet' },
    where: { any: [{ by: 'equals', text: '/booklet' }] },
  }),
]

/** Fills what counts in the demo, how the tag hears of it, and what the practice network calls it. */
export async function fillSignals(database: Database, workspace: string): Promise<void> {
  for (const definition of definitions) await saveDefinition(database, workspace, definition)
  for (const rule of rules) await saveRule(database, workspace, rule)
  for (const network of ['norrfeed', 'kelpie', 'mothwire'])
    await saveSlot(database, workspace, network, 'order', 'purchase')
  const norrfeed = shippedProfiles.find(p => p.id === 'norrfeed')!
  const origin = practiceOrigin('norrfeed')
  await saveProfile(database, workspace, {
    ...norrfeed,
    account: ACCOUNT,
    tag: {
      base: `<script src="${origin}/tag.js" data-account="{account}"></script>`,
      event: '',
      requests: {
        script: `${origin}/tag.js`,
        hit: `${origin}/hit`,
        parameters: { value: 'value', currency: 'currency', transaction: 'tx' },
        page_view: 'page',
      },
    },
  })
}
