import { describe, expect, it } from 'vitest'
import { captureBy, oddsByDevice } from './claimed'
import { fromLogit, logit, odds, shareOfOdds } from './odds'
import { ownShareByBoth, ownShareByIdentity } from './ownShare'
import type { NetworkTally } from './tallies'

const tally = (credited: number, identified: number) => ({ credited, identified }) as NetworkTally

describe('the share of a network’s orders that we track', () => {
  it('is told by how many of all orders keep their identity', () => {
    // Of eighty with a visitor, at four in five, a hundred in all: twenty without a trace.
    const { share } = ownShareByIdentity({ identity: 0.8, orders: 500 }, tally(80, 80))
    expect(share).toBeCloseTo(80.5 / 101, 12)
    // Of those twenty, fifteen are known by their parameters.
    const tagged = ownShareByIdentity({ identity: 0.8, orders: 500 }, tally(95, 80))
    expect(tagged.share).toBeCloseTo(95.5 / (95 + 5 + 1), 12)
    // However many are, some leave no trace.
    expect(ownShareByIdentity({ identity: 0.8, orders: 500 }, tally(140, 80)).share).toBeCloseTo(
      140.5 / (140 + 2.8 + 1),
      12,
    )
  })
  it('is as sure as identities are many, and no surer than networks are alike', () => {
    const of = (orders: number) => ownShareByIdentity({ identity: 0.8, orders }, tally(80, 80)).variance
    expect(of(1000)).toBeCloseTo(0.09 + 1 / 160, 12)
    expect(of(10)).toBeCloseTo(0.09 + 1 / 1.6, 12)
    expect(of(0)).toBeCloseTo(0.09 + 1 / 0.16, 12)
  })
  it('is told by both claims and identity, each by how sure it is', () => {
    const both = ownShareByBoth(60, 20, 5, { share: 0.6, variance: 0.2 })
    const own = { share: 60.5 / 81, variance: 1 / 60.5 + (1 + 5 / 20) / 20.5 }
    const [a, b] = [1 / own.variance, 1 / 0.2]
    expect(logit(both.share)).toBeCloseTo((a * logit(own.share) + b * logit(0.6)) / (a + b), 9)
    expect(both.variance).toBeCloseTo(1 / (a + b), 12)
    // Where nothing is claimed it is as identity says.
    const none = ownShareByBoth(0, 0, 0, { share: 0.7, variance: 0.01 })
    expect(none.share).toBeCloseTo(0.7, 2)
    // Of less than one untracked order the variance is its own.
    expect(ownShareByBoth(5, 0.5, 2, { share: 0.5, variance: 1e9 }).variance).toBeCloseTo(
      1 / 5.5 + (1 + 2) / 1,
      6,
    )
  })
})

describe('odds', () => {
  it('go there and back', () => {
    for (const share of [0.02, 0.3, 0.5, 0.97]) {
      expect(shareOfOdds(odds(share))).toBeCloseTo(share, 12)
      expect(fromLogit(logit(share))).toBeCloseTo(share, 12)
    }
    expect(odds(0.75)).toBeCloseTo(3, 12)
    expect(logit(0.5)).toBe(0)
  })
  it('of devices stand about the common share, drawn to it by ten orders', () => {
    const [others, desktops] = oddsByDevice(0.6, [40, 30], [80, 40])
    expect(others).toBeCloseTo(odds((40 + 6) / 90) / odds(0.6), 12)
    expect(desktops).toBeCloseTo(odds((30 + 6) / 50) / odds(0.6), 12)
    expect(oddsByDevice(0.6, [0, 0], [0, 0])).toEqual([expect.closeTo(1, 9), expect.closeTo(1, 9)])
    // Neither all nor none are ever believed of a device.
    const [none, all] = oddsByDevice(0.5, [0, 4000], [4000, 4000])
    expect(none).toBeCloseTo(odds(0.005), 9)
    expect(all).toBeCloseTo(odds(0.98), 9)
  })
  it('give a capture by device and time', () => {
    const claim = { capture: Float64Array.of(0.5, 0.8, 0.999), byDevice: [0.5, 2] } as never
    expect(captureBy(claim, 0, 0)).toBeCloseTo(1 / 3, 12)
    expect(captureBy(claim, 0, 1)).toBeCloseTo(2 / 3, 12)
    expect(captureBy(claim, 1, 1)).toBeCloseTo(8 / 9, 12)
    expect(captureBy(claim, 2, 1)).toBe(0.98)
  })
})
