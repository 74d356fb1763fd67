import type { Settings } from '@/core/intake/settings'
import { evidenceAmong, gather } from '@/core/weigh/engine'
import type { Evidence } from '@/core/weigh/evidence'
import { costOf, ratio } from '@/core/weigh/figures'
import { gatheredOf } from '../evidenceOf'
import { judgeOnce, type Question } from './judged'

/** What a period comes to by some settings; amounts in minor units. */
export interface Settled {
  /** of its amounts */
  currency: string
  spend: number
  estimatedTenths: number
  cost: number | null
  line: number | null
  campaigns: number
  /** campaigns that cost more than their own line */
  over: number
  /** ads by their verdict */
  cut: number
  raise: number
}

/** What a period comes to as things stand, and by other settings. */
export function settledView(
  e: Evidence,
  { period, settings }: Pick<Question, 'period'> & { settings: Settings },
): { now: Settled; changed: Settled } {
  const { records, result, gathered } = gatheredOf(e)
  const changed = evidenceAmong(
    records,
    result,
    one => gather(records, settings, one, gathered(one)).evidence,
  )
  return { now: sumUp(e, period), changed: sumUp(changed, period) }
}

function sumUp(e: Evidence, period: Question['period']): Settled {
  const { totals, line, rows } = judgeOnce(e, period)
  const { spend, estimatedTenths } = totals.sums
  const campaigns = rows.filter(row => row.level === 'campaign')
  const ads = rows.filter(row => row.level === 'ad')
  const isOver = (row: (typeof rows)[number]) => {
    const cost = ratio(row.sums.spend, row.sums.estimatedTenths / 10)
    return row.line !== null && cost !== null && cost > row.line
  }
  return {
    currency: e.data.settings.currency,
    spend,
    estimatedTenths,
    cost: costOf(totals.sums, estimatedTenths / 10),
    line,
    campaigns: campaigns.length,
    over: campaigns.filter(isOver).length,
    cut: ads.filter(row => row.verdict.kind === 'cut').length,
    raise: ads.filter(row => row.verdict.kind === 'raise').length,
  }
}
