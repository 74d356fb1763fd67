import type { EstimateFinding } from '../estimate/findings'
import { WHOLE } from '../evidence/place'
import type { RejectReason } from '../intake/fields'
import type { Settings } from '../intake/settings'
import type { Level } from '../intake/tree'
import type { NameFinding } from '../links/finding'
import { toMajor } from '../shared/money'
import type { Evidence } from './evidence'
import { ratio } from './figures'
import type { Judgement } from './judge'
import type { JudgedRow } from './rows'
import type { StandsOn } from './standsOn'

const rounded = (value: number | null, digits = 4) => (value === null ? null : Number(value.toFixed(digits)))

/** One row of the judgement as exchanged: amounts in major units, a ratio without denominator null. */
export function reportRow(row: JudgedRow, currency: string) {
  const { sums } = row
  const money = (minor: number) => toMajor(minor, currency)
  const estimate = sums.estimatedTenths / 10
  const tracked = (sums.provenCredit + sums.taggedCredit) / WHOLE
  const spend = money(sums.spend)
  const cost = (orders: number) => rounded(ratio(spend, orders))
  const roas = (value: number) => rounded(ratio(value, sums.spend))
  return {
    level: row.level,
    id: row.id,
    name: row.name,
    parent_id: row.parentId,
    network: row.network,
    spend,
    impressions: sums.impressions,
    clicks: sums.clicks,
    claimed: rounded(sums.claimed, 3),
    proven: sums.provenCredit / WHOLE,
    tagged: sums.taggedCredit / WHOLE,
    estimate: { orders: estimate, low: rounded(row.low, 2), high: rounded(row.high, 2) },
    revenue: {
      claimed: money(sums.claimedValue),
      tracked: money(sums.trackedValue),
      estimate: money(sums.estimatedValue),
    },
    cost_per_result: {
      claimed: cost(sums.claimed),
      tracked: cost(tracked),
      estimate: cost(estimate),
      low: cost(row.high),
      high: cost(row.low),
    },
    roas: {
      claimed: roas(sums.claimedValue),
      tracked: roas(sums.trackedValue),
      estimate: roas(sums.estimatedValue),
    },
    line: row.line === null ? null : rounded(money(row.line)),
    worth: row.worth && {
      mean: rounded(money(row.worth.mean)),
      low: rounded(money(row.worth.low)),
      high: rounded(money(row.worth.high)),
    },
    verdict: {
      ...row.verdict,
      probability: rounded(row.verdict.probability),
      needed: row.verdict.needed === null ? null : money(row.verdict.needed),
    },
    results:
      (row.restsOn?.results ?? row.byResult)?.map(({ result, tenths, value }) => ({
        result,
        count: tenths / 10,
        value: money(value),
      })) ?? null,
  }
}
export type ReportRow = ReturnType<typeof reportRow>

/** What a judgement's reader should know about the data it stands on. */
export type JudgeFinding =
  | { code: RejectReason; severity: 'error'; at: { file: string; line: number; column: string } }
  | { code: 'other_result'; severity: 'hint'; at: { result: string; count: number } }
  | { code: 'laid_over_days'; severity: 'hint'; at: StandsOn['laid'][number] }
  | { code: 'stretch_cut'; severity: 'warning'; at: StandsOn['cut'][number] }
  | { code: 'rate_assumed'; severity: 'hint'; at: StandsOn['rates'][number] }
  | { code: 'days_without_report'; severity: 'warning'; at: StandsOn['uncovered'][number] }
  | { code: 'by_browsers'; severity: 'hint'; at: NonNullable<StandsOn['byBrowsers']> }
  | { code: 'not_confirmed'; severity: 'hint'; at: { results: number } }
  | { code: 'days_without_claims'; severity: 'warning'; at: StandsOn['unclaimed'][number] }
  | NameFinding
  | EstimateFinding

/** The judgement as `aequant judge --json` and `GET /api/judge` give it. */
export function reportJudgement(
  evidence: Evidence,
  judgement: Judgement,
  settings: Settings,
  level: Level,
  findings: readonly JudgeFinding[],
) {
  const { currency } = settings
  return {
    settings,
    totals: reportRow(judgement.totals, currency),
    rows: judgement.rows.filter(row => row.level === level).map(row => reportRow(row, currency)),
    gap: {
      orders: judgement.gap.orders,
      claims: judgement.gap.claims,
      orders_value: toMajor(judgement.gap.ordersValue, currency),
      claims_value: toMajor(judgement.gap.claimsValue, currency),
      matched: judgement.gap.matched,
      causes: judgement.gap.causes.map(line => ({ ...line, value: toMajor(line.value, currency) })),
    },
    capture: evidence.estimate.captures.map(capture => ({
      network: evidence.data.tree.networks[capture.network],
      network_capture: rounded(capture.networkCapture),
      own_capture: rounded(capture.ownCapture),
      orders_estimated: rounded(capture.orders, 1),
    })),
    findings: [...evidence.estimate.findings, ...findings],
  }
}
export type JudgementReport = ReturnType<typeof reportJudgement>
