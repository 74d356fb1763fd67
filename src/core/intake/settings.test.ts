import { expect, it } from 'vitest'
import { settingsFor, settingsSchema } from './settings'

const workspace = settingsSchema.parse({ currency: 'EUR', margin: 0.5, fee: 2.5, target_cost: 20 })
const rulesOf = (result: Parameters<typeof settingsFor>[1], settings = workspace) => {
  const { margin, fee, target_cost, credit } = settingsFor(settings, result)
  return [margin, fee, target_cost, credit]
}

it('a result is counted by its own rules, and by the workspace’s where it has none', () => {
  expect(rulesOf({})).toEqual([0.5, 2.5, 20, 'last_click'])
  expect(rulesOf({ id: 'order', margin: 0.3, credit: 'even' })).toEqual([0.3, 2.5, 20, 'even'])
  // What every order costs, and what one may cost, is said of orders.
  expect(rulesOf({ id: 'lead', currency: 'EUR' })).toEqual([0.5, 0, undefined, 'last_click'])
  expect(rulesOf({ id: 'lead', currency: 'EUR', fee: 125 })).toEqual([0.5, 1.25, undefined, 'last_click'])
  expect(rulesOf({ id: 'order', currency: 'EUR', fee: 0 })).toEqual([0.5, 0, 20, 'last_click'])
  // A fee in another currency is of no use for a line in this one.
  expect(rulesOf({ id: 'order', currency: 'GBP', fee: 125 })).toEqual([0.5, 2.5, 20, 'last_click'])
  const yen = settingsSchema.parse({ currency: 'JPY' })
  expect(rulesOf({ id: 'lead', currency: 'JPY', fee: 125 }, yen)).toEqual([1, 125, undefined, 'last_click'])
})
