import type { Level } from '@/core/intake/tree'
import type { Period } from '@/core/shared/days'
import type { Evidence } from '@/core/weigh/evidence'
import { type Judgement, judge } from '@/core/weigh/judge'
import type { Days } from '@/core/weigh/leafSums'
import { type JudgementReport, reportJudgement } from '@/core/weigh/report'
import type { Scope } from '@/core/weigh/scope'
import { findingsOf } from '../../judging/findings'

/** What a page asks for: a period, and the part of the account it is narrowed to. */
export interface Question {
  period: Period
  scope: Scope
}

export function judgeView(e: Evidence, { period, level }: { period: Period; level: Level }): JudgementReport {
  return reportJudgement(e, judgeOnce(e, period), e.data.settings, level, findingsOf(e.data, []))
}

/** Days without their bill are in no figure, unless `all` are asked for. The latest judgements of each evidence: the views of one screen ask for the same period. */
const judged: Record<Days, WeakMap<Evidence, { period: Period; judgement: Judgement }>> = {
  all: new WeakMap(),
  billed: new WeakMap(),
}
export function judgeOnce(e: Evidence, period: Period, days: Days = 'billed'): Judgement {
  const known = judged[days].get(e)
  if (known?.period.from === period.from && known.period.to === period.to) return known.judgement
  const judgement = judge(e, period, days)
  judged[days].set(e, { period, judgement })
  return judgement
}
