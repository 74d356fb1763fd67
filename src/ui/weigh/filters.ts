import { type Day, parseDay } from '@/core/shared/days'
import { isNone } from '@/core/weigh/figures'
import type { WeighedRow } from '@/core/weigh/weighRow'
import type { WeighView } from '@/server/compute/views/weigh'
import { costIn, estimated } from './rowFigures'

/** States by which rows are chosen, each with its words. */
export const stateWords = {
  all: 'all rows',
  active: 'active',
  lately: 'spent in the last 3 days',
  still: 'spent nothing in the last 3 days',
  over: 'over their line',
  under: 'under their line',
  few: 'fewer than 5 results',
  none: 'spent, no result',
  cut: 'to be cut',
  raise: 'to be raised',
  hold: 'to be held',
  wait: 'too early to tell',
  tires: 'tiring',
  doubts: 'with a doubt',
} as const
export type State = keyof typeof stateWords
export const states = Object.keys(stateWords) as State[]

const LATELY_DAYS = 3
const FEW = 5

const over = (row: WeighedRow): boolean | null => {
  const cost = costIn(row, estimated(row))
  return cost === null || row.line === null ? null : cost > row.line
}

/** The last day of the period of which the network of a row has told what it spent. */
export function lastTold({
  period,
  toldUntil,
  unbilled,
}: Pick<WeighView, 'period' | 'toldUntil' | 'unbilled'>): (row: Pick<WeighedRow, 'network'>) => Day {
  const late = new Map(unbilled.map(({ network, until }) => [network, until]))
  const latest = toldUntil !== null && toldUntil < period.to ? toldUntil : period.to
  return ({ network }) => parseDay(late.get(network) ?? (network ? period.to : latest)) ?? 0
}

/** Whether a row is in a state; `last` is the last day of which it is known what it spent. */
export function isInState(state: State, row: WeighedRow, last: Day): boolean {
  const lately = row.lastSpent !== null && row.lastSpent > last - LATELY_DAYS
  switch (state) {
    case 'all':
      return true
    case 'active':
      return row.active ?? lately
    case 'lately':
      return lately
    case 'still':
      return !lately
    case 'over':
      return (
        over(row) === true ||
        (row.sums.spend > 0 &&
          isNone(estimated(row)) &&
          row.sums.spend > (row.line ?? Number.POSITIVE_INFINITY))
      )
    case 'under':
      return over(row) === false
    case 'few':
      return estimated(row) < FEW
    case 'none':
      return row.sums.spend > 0 && isNone(estimated(row))
    case 'tires':
      return row.tires.length > 0
    case 'doubts':
      return row.doubts.length > 0
    default:
      return row.verdict.kind === state && row.level !== 'total'
  }
}

/** One condition on a figure. */
export interface Condition {
  /** a column */
  figure: string
  than: 'least' | 'most'
  /** as it is typed: amounts in major units, shares in hundredths */
  value: number
}

/** Conditions as they stand in an address: `cost:most:30,spend:least:100`. */
export const writeConditions = (conditions: readonly Condition[]): string =>
  conditions.map(({ figure, than, value }) => `${figure}:${than}:${value}`).join(',')
export const readConditions = (text: string): Condition[] =>
  text.split(',').flatMap(part => {
    const [figure, than, value] = part.split(':')
    return figure && (than === 'least' || than === 'most') && Number.isFinite(Number(value)) && value
      ? [{ figure, than, value: Number(value) }]
      : []
  })
