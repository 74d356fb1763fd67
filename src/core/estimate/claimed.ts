import { odds, shareOfOdds } from './odds'

/** One untracked order's part in what a network truly claims of an ad. */
export interface ClaimedPart {
  order: number
  leaf: number
  /** how likely it is this ad's, 0–1 */
  part: number
  variance: number
}

/** What the claims of one network say, in a list or in daily sums. */
export interface Claimed {
  /** by stretch: the share of its own orders that it claims */
  capture: Float64Array
  captureVariance: Float64Array
  /** the same over all time */
  share: number
  shareVariance: number
  /** odds of being claimed by device about the odds of all: phones and tablets first, desktops second */
  byDevice: [number, number]
  /** of what it truly claims, the share that we track; its variance on the logit scale */
  own: { share: number; variance: number }
  /** orders without a trace that it claims, of any status, with their variance */
  untracked: number
  untrackedVariance: number
  /** the counting ones of them */
  parts: ClaimedPart[]
  /** of daily sums: the share of lines whose values do not fit any orders of ours, and of orders claimed twice */
  unlike: number | null
  twice: number | null
}

/** A network's capture in a stretch by device. */
export const captureBy = ({ capture, byDevice }: Claimed, stretch: number, device: 0 | 1): number =>
  Math.min(0.98, Math.max(0.005, shareOfOdds(byDevice[device] * odds(capture[stretch]!))))

/** Captures by device, each drawn toward the common one by ten orders, as odds about the common one. */
export function oddsByDevice(
  common: number,
  hits: readonly [number, number],
  trials: readonly [number, number],
): [number, number] {
  const about = (d: 0 | 1) => {
    const share = Math.min(0.98, Math.max(0.005, (hits[d] + 10 * common) / (trials[d] + 10)))
    return odds(share) / odds(common)
  }
  return [about(0), about(1)]
}
