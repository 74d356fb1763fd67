import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { formatDay, parseDay } from '../shared/days'
import { minor } from '../shared/money'
import type { ClaimSumRow, DeliveryRow } from './records'
import { layClaims, layDelivery, readStretch, writeStretch } from './stretch'

const FIRST = parseDay('2026-10-12')!
const spent = (more: Partial<DeliveryRow>): DeliveryRow => ({
  ...{ date: FIRST, network: 'norrfeed', campaign_id: 'c', campaign_name: null, ad_set_id: null },
  ...{
    ad_set_name: null,
    ad_id: 'a',
    ad_name: null,
    currency: 'EUR',
    spend: minor(0),
    impressions: 0,
    clicks: 0,
  },
  ...{ status: null, daily_budget: null, reach: null, keyword: null, match_type: null, placement: null },
  ...{ source: null, device: null, ...more },
})
const claimed = (more: Partial<ClaimSumRow>): ClaimSumRow => ({
  ...{ date: FIRST, network: 'norrfeed', campaign_id: '', ad_set_id: '', ad_id: 'a', conversion: 'purchase' },
  ...{ click_through: 0, view_through: 0, value: null, currency: null, ...more },
})
const sum = (list: readonly number[]) => list.reduce((all, one) => all + one, 0)

describe('a sum of several days', () => {
  it('is spread evenly over them, and sums to what it was', () => {
    const week = layDelivery(spent({ date_to: FIRST + 6, spend: minor(1000), impressions: 70, clicks: 3 }))
    expect(week.map(row => formatDay(row.date))).toEqual(
      [12, 13, 14, 15, 16, 17, 18].map(date => `2026-10-${date}`),
    )
    expect(week.map(row => row.spend).sort()).toEqual([142, 143, 143, 143, 143, 143, 143])
    expect(week.every(row => row.impressions === 10 && row.stretch === '2026-10-12/2026-10-18')).toBe(true)
    expect(sum(week.map(row => row.clicks))).toBe(3)
  })
  it('leaves a row of one day as it is', () => {
    const day = spent({ spend: minor(1000), date_to: FIRST })
    expect(layDelivery(day)).toEqual([day])
  })
  it.each([null, 'EUR', 'JPY'])('keeps whole conversions whole and every unit of value, in %s', currency => {
    fc.assert(
      fc.property(
        fc.integer({ min: 2, max: 40 }),
        fc.integer({ min: 0, max: 60_000 }),
        fc.integer({ min: 0, max: 60 }),
        fc.integer({ min: 0, max: 1_000_000 }),
        (days, thousandths, views, units) => {
          const value = currency === 'JPY' ? String(units) : (units / 100).toFixed(2)
          const row = claimed({ click_through: thousandths / 1000, view_through: views, value, currency })
          const laid = layClaims({ ...row, date_to: FIRST + days - 1 })
          expect(laid.map(own => own.date)).toEqual(Array.from({ length: days }, (_, i) => FIRST + i))
          expect(sum(laid.map(own => Math.round(own.click_through * 1000)))).toBe(thousandths)
          expect(sum(laid.map(own => own.view_through))).toBe(views)
          const scale = currency === 'JPY' ? 1 : 100
          expect(sum(laid.map(own => Math.round(Number(own.value) * scale)))).toBe(units)
          // What is less than a conversion stands on one day alone.
          expect(laid.filter(own => own.click_through % 1 > 1e-9).length).toBeLessThanOrEqual(1)
        },
      ),
    )
  })
  it('is written as an interval and read again', () => {
    expect(readStretch(writeStretch({ from: FIRST, to: FIRST + 6 }))).toEqual({ from: FIRST, to: FIRST + 6 })
    expect([readStretch(null), readStretch('weekly'), readStretch('2026-10-18/2026-10-12')]).toEqual([
      null,
      null,
      null,
    ])
  })
})
