import { reconcile } from '@/core/evidence/gap'
import type { Level } from '@/core/intake/tree'
import type { Period } from '@/core/shared/days'
import type { Evidence } from '@/core/weigh/evidence'
import { judge } from '@/core/weigh/judge'
import { type JudgementReport, reportJudgement } from '@/core/weigh/report'
import type { Scope } from '@/core/weigh/scope'
import { findingsOf } from '../../judging/findings'

/** What a page asks for: a period, and the part of the account it is narrowed to. */
export interface Question {
  period: Period
  scope: Scope
  /** whether spend that no report splits by a segment is shared out by clicks */
  shared?: boolean
}

export function judgeView(e: Evidence, { period, level }: { period: Period; level: Level }): JudgementReport {
  return reportJudgement(e, judgeOnce(e, period), e.data.settings, level, findingsOf(e, period, []))
}

/** The latest of each evidence: the views of one screen ask for the same period. */
function keptByPeriod<T>(make: (e: Evidence, period: Period) => T): (e: Evidence, period: Period) => T {
  const kept = new WeakMap<Evidence, { period: Period; made: T }>()
  return (e, period) => {
    const known = kept.get(e)
    if (known?.period.from === period.from && known.period.to === period.to) return known.made
    const made = make(e, period)
    kept.set(e, { period, made })
    return made
  }
}

/** Days without their bill are in no figure. Verdicts rest on all results that an ad brings. */
export const judgeOnce = keptByPeriod((e, period) => judge(e, period))

/** What became of each order and claim. */
export const fatesOnce = keptByPeriod((e, period) => reconcile(e.data, e.placements, e.matches, period))
