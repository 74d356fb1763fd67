import type { Reject } from '@/core/intake/fields'
import { type Level, nameKey } from '@/core/intake/tree'
import { nameFindings } from '@/core/links/names'
import type { Period } from '@/core/shared/days'
import { readPath } from '@/core/shared/path'
import type { Evidence } from '@/core/weigh/evidence'
import type { JudgeFinding } from '@/core/weigh/report'
import { standsOn } from '@/core/weigh/standsOn'

/** What a judgement's reader should know about the data it stands on. */
export function findingsOf(
  evidence: Evidence,
  period: Period,
  rejects: readonly (Reject & { file: string })[],
): JudgeFinding[] {
  const { data } = evidence
  const { laid, cut, uncovered, unclaimed, rates, byBrowsers, unconfirmed } = standsOn(evidence, {}, period)
  const parents = new Map<string, string>()
  for (const { network, campaign, adSet, ad } of data.tree.leaves) {
    parents.set(nameKey(network, 'ad_set', adSet), campaign)
    parents.set(nameKey(network, 'ad', ad), adSet)
  }
  const names = [...data.tree.names].map(([key, all]) => {
    const [network, level, id] = readPath(key) as [string, Level, string]
    return { level, id, names: all, parentId: `${network}/${parents.get(key) ?? ''}` }
  })
  return [
    ...rejects.slice(0, 200).map(r => ({
      code: r.reason,
      severity: 'error' as const,
      at: { file: r.file, line: r.line, column: r.column },
    })),
    ...[...data.otherResults].map(([result, count]) => ({
      code: 'other_result' as const,
      severity: 'hint' as const,
      at: { result, count },
    })),
    ...laid.map(at => ({ code: 'laid_over_days' as const, severity: 'hint' as const, at })),
    ...cut.map(at => ({ code: 'stretch_cut' as const, severity: 'warning' as const, at })),
    ...uncovered.map(at => ({ code: 'days_without_report' as const, severity: 'warning' as const, at })),
    ...unclaimed.map(at => ({ code: 'days_without_claims' as const, severity: 'warning' as const, at })),
    ...(byBrowsers ? [{ code: 'by_browsers' as const, severity: 'hint' as const, at: byBrowsers }] : []),
    ...(unconfirmed > 0
      ? [{ code: 'not_confirmed' as const, severity: 'hint' as const, at: { results: unconfirmed } }]
      : []),
    ...rates.map(at => ({ code: 'rate_assumed' as const, severity: 'hint' as const, at })),
    ...nameFindings(names),
  ]
}
