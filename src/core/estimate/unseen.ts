import { type Claimed, captureBy } from './claimed'
import { ofAllTime, type Tallies } from './tallies'

/** Odds of leaving no trace: phones over desktops as the mean and sd of a logarithm, known beforehand. */
const DEVICE_GAP = { mean: 0.4, sd: 0.5 }
/** How far a network's own odds may lie from those of all: sd of a logarithm. */
const NETWORK_SPREAD = 0.15
/** The same of one that claims nothing, before others tell how far they differ: worth so many networks. */
const SILENT_SPREAD = { sd: 0.35, weight: 1.5 }
const MOST_UNSEEN = 0.9

/** What neither our tracking nor its claims saw of a network's true orders. */
export interface Unseen {
  /** share of all its true orders, by stretch */
  missed: Float64Array
  /** variance of the logarithm of its unseen orders */
  variance: number
}

export interface UnseenOfAll {
  networks: Unseen[]
  /** odds that an ad's order leaves no trace, by device */
  odds: [number, number]
}

/**
 * How many orders of each network neither witness saw. An order leaves no trace by odds that go by device and
 * time and are nearly the same for all networks; they are learned from what networks claim of untracked orders
 * (least squares of logarithms, Gauss–Newton, with priors where one network alone could not tell).
 *
 * @param claims by network; null for one that claims nothing
 * @param seen per network: counting orders tracked or claimed
 */
export function unseenOrders(
  tallies: Tallies,
  claims: readonly (Claimed | null)[],
  seen: readonly number[],
): UnseenOfAll {
  const { lossOdds, networks } = tallies
  /** tracked orders, weighed by how likely one like them is claimed without being tracked */
  const parts = claims.map((claim, n) =>
    claim ? ([0, 1] as const).map(d => claimable(networks[n]!.touched, claim, lossOdds, d)) : null,
  )
  const fit = fitOdds(claims, parts, tallies.identity)
  const { odds } = fit
  return {
    odds,
    networks: claims.map((claim, n): Unseen => {
      const own = networks[n]!
      const led = ofAllTime(own.led)
      const whole = led[0] + led[1]
      const share = ([0, 1] as const).map(d => (whole > 0 ? led[d] / whole : 0.5))
      const within = own.touchedOfLed
      const { effect, variance } = fit.ofNetwork(n, led)
      const ledAt = own.led.map(([others, desktops]) => others + desktops)
      const untrackedAt = (t: number, of: (capture: number) => number) =>
        ([0, 1] as const).reduce<number>((sum, d) => {
          const capture = claim ? captureBy(claim, t, d) * within : 0
          return sum + share[d]! * odds[d] * effect * lossOdds[t]! * of(capture)
        }, 0)
      const unseenAt = lossOdds.map((_, t) => untrackedAt(t, capture => 1 - capture))
      const seenAt = lossOdds.map((_, t) => 1 + untrackedAt(t, capture => capture))
      const modelled = ledAt.reduce((sum, count, t) => sum + count * seenAt[t]!, 0)
      const scale = modelled > 0 ? seen[n]! / modelled : 1
      return {
        missed: unseenAt.map((unseen, t) => {
          const all = unseen + scale * seenAt[t]!
          return all > 0 ? Math.min(MOST_UNSEEN, unseen / all) : 0
        }),
        variance: variance + (claim ? claim.shareVariance / (1 - claim.share) ** 2 : 0),
      }
    }),
  }
}

const claimable = (
  touched: readonly (readonly [number, number])[],
  claim: Claimed,
  lossOdds: Float64Array,
  device: 0 | 1,
): number =>
  touched.reduce(
    (sum, counts, t) => sum + counts[device] * lossOdds[t]! * captureBy(claim, t, device),
    0.25 * captureBy(claim, 0, device),
  )

/** Fits the odds of leaving no trace by device, common to all networks, and what each network adds of its own. */
function fitOdds(
  claims: readonly (Claimed | null)[],
  parts: readonly (number[] | null)[],
  identity: number | null,
) {
  const { mean: gap, sd } = DEVICE_GAP
  const own = claims.map(claim =>
    claim
      ? {
          log: Math.log(claim.untracked + 0.5),
          noise: 1 / (claim.untracked + 0.5) + claim.untrackedVariance / (claim.untracked + 0.5) ** 2,
        }
      : null,
  )
  const known = [...own.keys()].filter(n => own[n] !== null)
  const claimed = known.reduce((sum, n) => sum + claims[n]!.untracked, 0.5)
  const base = known.reduce((sum, n) => sum + parts[n]![0]! + parts[n]![1]!, 0)
  // Where nobody claims anything, an ad's orders lose their trace as all orders do.
  const begin =
    known.length > 0 ? claimed / Math.max(0.5, base) : identity === null ? 0 : (1 - identity) / identity
  let a = Math.log(begin) + gap / 2
  let b = a - gap
  let spread = { aa: 1, ab: 0, bb: 1 }
  for (let round = 0; round < 30; round++) {
    const pull = 1 / sd ** 2
    let ga = -(a - b - gap) * pull
    let gb = -ga
    let [haa, hab, hbb] = [pull + 1e-9, -pull, pull + 1e-9]
    for (const n of known) {
      const [one, two] = [parts[n]![0]! * Math.exp(a), parts[n]![1]! * Math.exp(b)]
      const [da, db] = [one / (one + two), two / (one + two)]
      const weight = 1 / (own[n]!.noise + NETWORK_SPREAD ** 2)
      const rest = own[n]!.log - Math.log(one + two)
      ga += weight * rest * da
      gb += weight * rest * db
      haa += weight * da * da
      hab += weight * da * db
      hbb += weight * db * db
    }
    const det = haa * hbb - hab * hab
    const [xa, xb] = [(hbb * ga - hab * gb) / det, (haa * gb - hab * ga) / det]
    const longest = Math.max(Math.abs(xa), Math.abs(xb), 1)
    a += xa / longest
    b += xb / longest
    spread = { aa: hbb / det, ab: -hab / det, bb: haa / det }
    if (Math.abs(xa) + Math.abs(xb) < 1e-8) break
  }
  const odds: [number, number] = [Math.exp(a), Math.exp(b)]
  const squared = NETWORK_SPREAD ** 2
  const differ = known.reduce(
    (sum, n) => {
      const expected = Math.log(parts[n]![0]! * odds[0] + parts[n]![1]! * odds[1])
      return sum + Math.max(0, (own[n]!.log - expected) ** 2 - own[n]!.noise)
    },
    SILENT_SPREAD.weight * SILENT_SPREAD.sd ** 2,
  )
  /** of one that claims nothing: as far as the others differ */
  const silent = differ / (known.length + SILENT_SPREAD.weight)
  return {
    odds,
    /** the factor that a network's own odds have, and the variance of the logarithm of its unseen orders */
    ofNetwork: (n: number, led: readonly [number, number]) => {
      const seen = own[n]
      const part = parts[n]
      const [one, two] = part && seen ? [part[0]! * odds[0], part[1]! * odds[1]] : [0, 0]
      const keep = seen ? squared / (squared + seen.noise) : 0
      const effect = seen ? Math.exp(keep * (seen.log - Math.log(one + two))) : 1
      const claim = claims[n]
      const missed = ([0, 1] as const).map(d => led[d] * odds[d] * (1 - (claim ? captureBy(claim, 0, d) : 0)))
      const whole = missed[0]! + missed[1]! + 1e-9
      const seenWhole = one + two || 1
      const da = missed[0]! / whole - (keep * one) / seenWhole
      const db = missed[1]! / whole - (keep * two) / seenWhole
      const common = da * da * spread.aa + 2 * da * db * spread.ab + db * db * spread.bb
      return { effect, variance: Math.max(0, common) + (seen ? keep * seen.noise : silent) }
    },
  }
}

/** Of those who block everything: nought with three chances in four, else any share up to a half. */
const BLOCKING = { chance: 0.25, most: 0.5, steps: 400 }
/** They look like orders that never went through the site; how far the former is believed where no order says its channel. */
const BELIEVED = 0.57
const ONE_OR_OTHER = 1.15
/** Phones among orders that came by no ad. */
const ELSEWHERE_BY_PHONE = { mean: 0.65, sd: 0.15 }

/** A share of orders with its standard deviation. */
export interface Doubted {
  mean: number
  sd: number
  /** the share that the orders themselves show, before anything is believed of it */
  shown: number
}

/**
 * The share of shoppers whom neither witness can see since they block everything: as far as there are more
 * orders without identity than those of ads and of others explain.
 *
 * @param ads per network: counting orders seen, credited, unseen share, and variance of the unseen's logarithm
 */
export function blockingShare(
  tallies: Tallies,
  odds: readonly [number, number],
  ads: readonly { seen: number; certain: number; missed: number; variance: number }[],
): Doubted {
  const { networks, knownElsewhere, orders, channels } = tallies
  const believed = channels ? 1 : BELIEVED
  // Where no order of another way carries a visitor, the shop does not hand them on: orders without tell nothing.
  if (knownElsewhere === 0) return { mean: 0, sd: 0, shown: 0 }
  const identified = networks.reduce((sum, own) => sum + own.identified, 0)
  const tagged = networks.reduce((sum, own) => sum + own.credited - own.identified, 0)
  const adOrders = ads.reduce((sum, { seen, certain, missed }, n) => {
    const ofAnyStatus = networks[n]!.credited / Math.max(1e-9, certain)
    return sum + (certain > 0 ? ofAnyStatus * seen : seen) / (1 - missed)
  }, 0)
  const taggedShare = Math.min(0.9, tagged / Math.max(1, adOrders - identified))
  const kept = odds.map(one => 1 / (1 + one / (1 - taggedShare)))
  const { mean: phones, sd: phonesSd } = ELSEWHERE_BY_PHONE
  const keptElsewhere = phones * kept[0]! + (1 - phones) * kept[1]!
  const keptSd = Math.hypot(phonesSd * (kept[1]! - kept[0]!), 0.02)
  const elsewhere = knownElsewhere / keptElsewhere
  const unseen = ads.map(({ seen, missed }) => (missed * seen) / (1 - missed))
  const sd =
    Math.hypot(
      (elsewhere * keptSd) / keptElsewhere,
      Math.sqrt(unseen.reduce((sum, count, n) => sum + count ** 2 * ads[n]!.variance, 0)),
      Math.sqrt(knownElsewhere * (1 - keptElsewhere)) / keptElsewhere,
      Math.sqrt(unseen.reduce((sum, count) => sum + count, 0)),
      0.01 * orders,
    ) / orders
  const shown = 1 - (adOrders + elsewhere) / orders
  const found = posteriorOfShare(shown, sd)
  const square = believed * (found.mean ** 2 + found.sd ** 2)
  const mean = believed * found.mean
  // One or the other is true, never half of both: a normal law of this sd would leave too many out.
  return { mean, sd: ONE_OR_OTHER * Math.sqrt(Math.max(0, square - mean ** 2)), shown }
}

function posteriorOfShare(shown: number, sd: number): { mean: number; sd: number } {
  const { chance, most, steps } = BLOCKING
  const likely = (share: number) => Math.exp(-0.5 * ((shown - share) / sd) ** 2)
  let whole = (1 - chance) * likely(0)
  let [mean, square] = [0, 0]
  for (let i = 0; i < steps; i++) {
    const share = ((i + 0.5) / steps) * most
    const weight = (chance / steps) * likely(share)
    whole += weight
    mean += weight * share
    square += weight * share * share
  }
  if (!(whole > 0)) return { mean: Math.max(0, Math.min(most, shown)), sd }
  mean /= whole
  return { mean, sd: Math.sqrt(Math.max(0, square / whole - mean * mean)) }
}
