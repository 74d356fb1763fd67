import { describe, expect, it } from 'vitest'
import type { Claimed } from './claimed'
import type { ByDevice, NetworkTally, Tallies } from './tallies'
import { blockingShare, unseenOrders } from './unseen'

interface Known {
  touched: ByDevice[]
  led: ByDevice[]
  within?: number
  credited?: number
  identified?: number
}
const talliesOf = (networks: Known[], more: Partial<Tallies> = {}): Tallies => ({
  stretches: networks[0]!.led.length,
  stretchOf: () => 0,
  identity: 0.8,
  orders: 1000,
  channels: false,
  lossOdds: new Float64Array(networks[0]!.led.length).fill(1),
  knownElsewhere: 0,
  touched: new Float64Array(0),
  ...more,
  networks: networks.map(
    ({ touched, led, within = 1, credited = 0, identified = 0 }) =>
      ({ touched, led, touchedOfLed: within, credited, identified }) as NetworkTally,
  ),
})
const claimed = (capture: number[], untracked: number, more: Partial<Claimed> = {}): Claimed => ({
  capture: Float64Array.from(capture),
  captureVariance: new Float64Array(capture.length),
  share: capture[0]!,
  shareVariance: 0,
  byDevice: [1, 1],
  own: { share: 0.8, variance: 0.01 },
  untracked,
  untrackedVariance: 0,
  parts: [],
  unlike: null,
  twice: null,
  ...more,
})

describe('what neither witness saw', () => {
  it('is of one network and device what its own claims tell', () => {
    // A hundred tracked, of which four in five are claimed, and twenty claimed that we did not track.
    const odds = 20.5 / (0.8 * (100.25 + 0.25 * Math.exp(-0.4)))
    const tallies = talliesOf([{ touched: [[100, 0]], led: [[100, 0]] }])
    const { networks, odds: found } = unseenOrders(tallies, [claimed([0.8], 20)], [100 * (1 + odds * 0.8)])
    expect(found[0]).toBeCloseTo(odds, 6)
    // Of a hundred tracked as many leave no trace as the odds say, and a fifth of those is not claimed.
    expect(networks[0]!.missed[0]).toBeCloseTo((odds * 0.2) / (1 + odds), 6)
  })
  it('is less of what is seen where more is seen than tracking and claims tell', () => {
    const tallies = talliesOf([{ touched: [[100, 0]], led: [[100, 0]] }])
    const odds = 20.5 / (0.8 * (100.25 + 0.25 * Math.exp(-0.4)))
    const { networks } = unseenOrders(tallies, [claimed([0.8], 20)], [200])
    const seen = (200 * (1 + odds * 0.8)) / (100 * (1 + odds * 0.8))
    expect(networks[0]!.missed[0]).toBeCloseTo((odds * 0.2) / (odds * 0.2 + seen), 6)
  })
  it('follows how capture and the loss of traces move, and no further than nine in ten', () => {
    const tallies = talliesOf(
      [
        {
          touched: [
            [50, 0],
            [50, 0],
            [50, 0],
          ],
          led: [
            [50, 0],
            [50, 0],
            [50, 0],
          ],
          within: 0.9,
        },
      ],
      { lossOdds: Float64Array.of(0.5, 1, 400) },
    )
    const claim = claimed([0.8, 0.4, 0.006], 30)
    const { networks, odds } = unseenOrders(tallies, [claim], [150])
    const [odd] = odds
    const part = [0.5, 1, 400].map((loss, t) => ({
      unseen: odd * loss * (1 - claim.capture[t]! * 0.9),
      seen: 1 + odd * loss * claim.capture[t]! * 0.9,
    }))
    const scale = 150 / part.reduce((sum, { seen }) => sum + 50 * seen, 0)
    const missed = part.map(({ unseen, seen }) => Math.min(0.9, unseen / (unseen + scale * seen)))
    expect([...networks[0]!.missed]).toEqual(missed.map(share => expect.closeTo(share, 9)))
    expect(networks[0]!.missed[2]).toBe(0.9)
  })

  const two = [
    { touched: [[100, 40]] as ByDevice[], led: [[90, 35]] as ByDevice[] },
    { touched: [[60, 90]] as ByDevice[], led: [[50, 80]] as ByDevice[] },
  ]
  const claims = [
    claimed([0.7], 30, { untrackedVariance: 4, byDevice: [0.8, 1.4] }),
    claimed([0.5], 12, { untrackedVariance: 9 }),
  ]
  const captures = [
    [(0.8 * 7) / 3 / (1 + (0.8 * 7) / 3), (1.4 * 7) / 3 / (1 + (1.4 * 7) / 3)],
    [0.5, 0.5],
  ]
  /** What the odds of both devices have against them, as it is defined. */
  const against = (a: number, b: number) => {
    let sum = (a - b - 0.4) ** 2 / 0.5 ** 2
    two.forEach(({ touched: [counts] }, n) => {
      const noise =
        1 / (claims[n]!.untracked + 0.5) + claims[n]!.untrackedVariance / (claims[n]!.untracked + 0.5) ** 2
      const model = [a, b].reduce(
        (all, log, d) => all + Math.exp(log) * (counts![d]! + 0.25) * captures[n]![d]!,
        0,
      )
      sum += (Math.log(claims[n]!.untracked + 0.5) - Math.log(model)) ** 2 / (noise + 0.15 ** 2)
    })
    return sum
  }
  it('goes by odds of devices that all networks share, the likeliest of all', () => {
    const { odds } = unseenOrders(talliesOf(two), claims, [140, 150])
    const [a, b] = odds.map(Math.log) as [number, number]
    const best = against(a, b)
    for (const [da, db] of [
      [1e-3, 0],
      [-1e-3, 0],
      [0, 1e-3],
      [0, -1e-3],
      [1e-3, 1e-3],
      [-1e-3, -1e-3],
    ] as const)
      expect(against(a + da, b + db)).toBeGreaterThan(best)
  })
  it('lets a network differ from the others a little, and says how sure it is', () => {
    const { odds, networks } = unseenOrders(talliesOf(two), claims, [140, 150])
    networks.forEach(({ missed, variance }, n) => {
      const { touched, led } = two[n]!
      const parts = odds.map((odd, d) => odd * (touched[0]![d]! + 0.25) * captures[n]![d]!)
      const noise =
        1 / (claims[n]!.untracked + 0.5) + claims[n]!.untrackedVariance / (claims[n]!.untracked + 0.5) ** 2
      const keep = 0.15 ** 2 / (0.15 ** 2 + noise)
      const effect = Math.exp(keep * (Math.log(claims[n]!.untracked + 0.5) - Math.log(parts[0]! + parts[1]!)))
      const whole = led[0]![0] + led[0]![1]
      const by = (of: (capture: number) => number) =>
        odds.reduce((sum, odd, d) => sum + (led[0]![d]! / whole) * odd * effect * of(captures[n]![d]!), 0)
      const [unseen, seen] = [by(capture => 1 - capture), 1 + by(capture => capture)]
      const scale = [140, 150][n]! / (whole * seen)
      expect(missed[0]).toBeCloseTo(unseen / (unseen + scale * seen), 9)
      // At least what its own claims leave open of how far it differs.
      expect(variance).toBeGreaterThan(keep * noise)
      expect(variance).toBeLessThan(keep * noise + 0.1)
    })
  })
  it('is as unsure as the share that it claims', () => {
    const of = (shareVariance: number) =>
      unseenOrders(talliesOf(two), [{ ...claims[0]!, shareVariance }, claims[1]!], [140, 150]).networks[0]!
        .variance
    expect(of(0.003) - of(0)).toBeCloseTo(0.003 / 0.3 ** 2, 12)
  })
  it('is of who claims nothing what others lose, and where nobody claims what all orders lose', () => {
    const { networks, odds } = unseenOrders(talliesOf(two), [claims[0]!, null], [140, 130])
    const [share] = [(50 * odds[0] + 80 * odds[1]) / 130]
    expect(networks[1]!.missed[0]).toBeCloseTo(share / (share + 1), 9)
    // How far it differs is not known at all, and nobody else's claims tell it.
    expect(networks[1]!.variance).toBeGreaterThan(0.15 ** 2)
    const none = unseenOrders(talliesOf(two), [null, null], [125, 130])
    expect(none.odds[0]).toBeCloseTo(0.25 * Math.exp(0.2), 6)
    expect(none.odds[1]).toBeCloseTo(0.25 * Math.exp(-0.2), 6)
  })
})

describe('shoppers whom nobody can see', () => {
  const ads = [{ seen: 300, certain: 250, missed: 0.05, variance: 0.01 }]
  const tallies = (knownElsewhere: number, more: Partial<Tallies> = {}) =>
    talliesOf([{ touched: [[0, 0]], led: [[0, 0]], credited: 250, identified: 240 }], {
      knownElsewhere,
      ...more,
    })
  const odds: [number, number] = [0.3, 0.2]
  /** The share by its definition, with a mean of many small steps. */
  function byHand(knownElsewhere: number, orders: number, believed: number) {
    const adOrders = 300 / 0.95
    const tagged = 10 / (adOrders - 240)
    const kept = odds.map(one => 1 / (1 + one / (1 - tagged)))
    const mean = 0.65 * kept[0]! + 0.35 * kept[1]!
    const keptSd = Math.hypot(0.15 * (kept[1]! - kept[0]!), 0.02)
    const elsewhere = knownElsewhere / mean
    const unseen = (0.05 * 300) / 0.95
    const sd =
      Math.sqrt(
        ((elsewhere * keptSd) / mean) ** 2 +
          unseen ** 2 * 0.01 +
          (knownElsewhere * (1 - mean)) / mean ** 2 +
          unseen +
          (0.01 * orders) ** 2,
      ) / orders
    const shown = 1 - (adOrders + elsewhere) / orders
    const likely = (share: number) => Math.exp(-((shown - share) ** 2) / (2 * sd ** 2))
    let [whole, one, two] = [0.75 * likely(0), 0, 0]
    const steps = 20_000
    for (let i = 0; i < steps; i++) {
      const share = ((i + 0.5) / steps) * 0.5
      const weight = (0.25 / steps) * likely(share)
      whole += weight
      one += weight * share
      two += weight * share ** 2
    }
    const [found, square] = [one / whole, two / whole]
    return {
      shown,
      mean: believed * found,
      variance: believed * square - (believed * found) ** 2,
    }
  }
  it.each([
    [300, 800],
    [300, 900],
    [100, 430],
    [400, 800],
  ])('are as many as other orders leave unexplained: %i known elsewhere of %i', (elsewhere, orders) => {
    const found = blockingShare(tallies(elsewhere, { orders }), odds, ads)
    const truth = byHand(elsewhere, orders, 0.57)
    expect(found.shown).toBeCloseTo(truth.shown, 9)
    expect(found.mean).toBeCloseTo(truth.mean, 4)
    expect(found.sd).toBeCloseTo(1.15 * Math.sqrt(truth.variance), 3)
  })
  it('are believed in whole where orders say that they came by the site', () => {
    const found = blockingShare(tallies(300, { orders: 900, channels: true }), odds, ads)
    expect(found.mean).toBeCloseTo(byHand(300, 900, 1).mean, 4)
    expect(found.mean).toBeGreaterThan(0.1)
  })
  it('are none where no other order carries a visitor: the shop does not hand them on', () => {
    expect(blockingShare(tallies(0), odds, ads)).toEqual({ mean: 0, sd: 0, shown: 0 })
  })
  it('are no more than half, whatever is shown', () => {
    const { mean } = blockingShare(tallies(1, { orders: 1e6 }), odds, ads)
    expect(mean).toBeLessThanOrEqual(0.5)
  })
})
