import type { JudgedRow } from '@/core/weigh/rows'
import type { WeighedRow } from '@/core/weigh/weighRow'
import type { Spark } from '@/server/compute/views/weigh'
import type { WalkedRows } from '@/server/signals/journey'
import type { Formats } from '../format'

export interface WeighRow extends WeighedRow {
  below: WeighRow[]
}

/** What stands in columns that are fetched once they are shown. */
export interface MoreFigures {
  sparks: Readonly<Record<string, Spark>> | undefined
  conversions: { names: string[]; rows: Readonly<Record<string, number[]>> } | undefined
  steps: WalkedRows | undefined
}

export interface WeighFacts extends Formats {
  /** most orders in one row, for the balances */
  most: number
  /** rows of as many days before, by their path; null where they are not asked for */
  before: ReadonlyMap<string, JudgedRow> | null
  more: MoreFigures
  /** puts what is said of orders in words for the judged result */
  words: (text: string) => string
  networkName: (id: string) => string
  resultName: (id: string) => string
  /** by network, the share of its orders that it claims */
  captures: Readonly<Record<string, number | null>>
  /** by which power results rise with spend, as the plan has it */
  elasticity: number
  /** shows why a row is judged as it is */
  why: (row: WeighedRow) => void
}
