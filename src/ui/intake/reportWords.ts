import type { DecimalMark } from '@/core/intake/reports/cells'
import { type MappingProblem, type ReportMapping, reportFields } from '@/core/intake/reports/mapping'
import type { DateOrder } from '@/core/intake/reports/moment'
import type { Covers } from '@/core/intake/reports/span'

const lacks = {
  date: 'No column is the day: pick the one that is.',
  campaign: 'No column names the campaign: spend could stand nowhere.',
  figures: 'No column holds spend or conversions: there is nothing to take in.',
} satisfies Record<(MappingProblem & { code: 'not_mapped' })['field'], string>

/** What keeps a report from being taken, and what to do. */
export function problemWords(problem: MappingProblem): string {
  switch (problem.code) {
    case 'not_mapped':
      return lacks[problem.field]
    case 'no_such_column':
      return `The report has no column “${problem.column}”, which was the ${reportFields[problem.field]} last time.`
    case 'column_twice':
      return `“${problem.column}” cannot be two things.`
  }
}

export const dateOrderWords: Record<DateOrder, string> = {
  ymd: 'year, month, day',
  dmy: 'day, month, year',
  mdy: 'month, day, year',
}
/** What of time a line is about whose date names one day alone. */
export const coversWords: Record<Covers, string> = {
  day: 'that day',
  week: 'the week from it on',
  month: 'its month',
}
export const decimalWords: Record<DecimalMark, string> = { '.': 'point: 1,234.50', ',': 'comma: 1.234,50' }

/** What each row of a report is about. */
export const levelWords = (level: string | null, { covers, columns }: ReportMapping): string =>
  level === null
    ? 'Its rows name no campaign.'
    : `Each row is one ${level.replace('_', ' ')} and ${columns.date_to ? 'stretch of days' : covers}.`

export const usedColumns = ({ columns, further }: ReportMapping): number =>
  Object.keys(columns).length + further.reduce((sum, one) => sum + Object.keys(one).length - 1, 0)
