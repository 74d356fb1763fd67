import { expect, it } from 'vitest'
import { reporterOf } from './reportedBy'

it.each([
  ['order', { order_id: 'T1', channel: null, changed_at: new Date(0) }, 'shop'],
  ['order', { order_id: 'T1', channel: 'web', changed_at: null }, 'file'],
  ['order', { order_id: 'corvane:D1', channel: 'partner', changed_at: new Date(0) }, 'partner'],
  ['click', { attributes: { code: 'no1' } }, 'collector'],
  ['click', { attributes: { code: '', told_by: 'page' } }, 'browser'],
  ['click', { attributes: null }, 'file'],
  ['event', {}, 'browser'],
] as const)('%s %j is reported by the %s', (kind, row, who) => {
  expect(reporterOf(kind, row)).toBe(who)
})
