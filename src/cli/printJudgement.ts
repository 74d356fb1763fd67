import type { JudgementReport, ReportRow } from '@/core/weigh/report'

const cell = (value: number | null, digits = 2) => (value === null ? '—' : value.toFixed(digits))
const columns: [heading: string, width: number, cell: (row: ReportRow) => string][] = [
  ['name', 34, row => (row.name || '(not broken down)').slice(0, 33)],
  ['network', 11, row => row.network],
  ['spend', 11, row => cell(row.spend)],
  ['claimed', 8, row => String(row.claimed)],
  ['proven', 8, row => cell(row.proven, 0)],
  ['tagged', 8, row => cell(row.tagged, 0)],
  ['estimated', 18, row => `${cell(row.estimate.orders, 1)} (${row.estimate.low}–${row.estimate.high})`],
  ['cost/result', 12, row => cell(isBilled(row) ? row.cost_per_result.estimate : null)],
  ['verdict', 8, row => row.verdict.kind],
]

/** What nobody billed is not free. */
const isBilled = ({ spend, impressions, clicks }: ReportRow) => spend > 0 || impressions > 0 || clicks > 0

/** The judgement as a table for a terminal. */
export function printJudgement(report: Pick<JudgementReport, 'rows' | 'totals' | 'gap'>): void {
  const line = (cells: string[]) =>
    cells.map((text, i) => (i < 2 ? text.padEnd(columns[i]![1]) : text.padStart(columns[i]![1]))).join(' ')
  console.log(line(columns.map(c => c[0])))
  for (const row of [...report.rows, report.totals]) console.log(line(columns.map(c => c[2](row))))
  const { gap } = report
  console.log(`\n${gap.orders} orders, ${gap.claims} claims, ${gap.matched} stand in both.`)
  for (const { cause, count, value } of gap.causes)
    console.log(`  ${cause.padEnd(16)} ${String(count).padStart(6)} ${cell(value).padStart(12)}`)
}
