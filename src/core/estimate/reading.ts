import type { Dataset } from '../intake/dataset'
import type { CellParameters, CellPosterior, CellWays } from './cell'
import type { OwnShare } from './ownShare'
import type { Tallies } from './tallies'
import type { Cell, Witnesses } from './witnesses'

/** One network's daily sums with what stands beside them, the same in all rounds. */
export interface Reading {
  data: Dataset
  w: Witnesses
  tallies: Tallies
  n: number
  cells: Cell[]
  leaves: number[]
  /** whether the network dates its claims by the click */
  byClick: boolean
  /** per order, in minor units: what it is worth on the basis on which the network reports */
  worth: Float64Array
  members: Map<number, DatedMember[]>
  /** orders that may be claimed, with their day known, by stretch */
  trials: Float64Array
  shares: DayShares
  identity: OwnShare
  /** orders tagged as other networks' that have a click of this one too, as far as known orders tell */
  othersTouched: number
  blanks: number
}

export interface DatedMember {
  /** how likely it belongs to the day; 1 where that is known */
  share: number
  value: number
  desktop: number
}

/** Per leaf, by day since the first: how an ad's orders fall on the days by which its network dates them. */
export type DayShares = Map<number, Map<number, number>>

/** What is learned of the network from all its cells. */
export interface Learned {
  p: Float64Array
  pVariance: Float64Array
  /** p over all time */
  common: number
  /** its variance where nothing but claims tells of it, else 0 */
  commonVariance: number
  q: OwnShare
  byDevice: [number, number]
  twice: number
  unlike: number
  /** untracked claimed orders by leaf, and all with their variance */
  untracked: Float64Array
  all: number
  allVariance: number
  /** P(an order without a trace has a click of the network in its window) */
  touchOfBlank: number
}

/** What one round found. */
export interface Round {
  learned: Learned
  ways: CellWays[]
  at: CellParameters[]
  posteriors: CellPosterior[]
  /** claimed tracked orders by device */
  hitsBy: [number, number]
}
