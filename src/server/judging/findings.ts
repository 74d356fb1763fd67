import type { Dataset } from '@/core/intake/dataset'
import type { Reject } from '@/core/intake/fields'
import { type Level, nameKey } from '@/core/intake/tree'
import { nameFindings } from '@/core/links/names'
import { readPath } from '@/core/shared/path'
import type { JudgeFinding } from '@/core/weigh/report'

/** What a judgement's reader should know about the data it stands on. */
export function findingsOf(data: Dataset, rejects: readonly (Reject & { file: string })[]): JudgeFinding[] {
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
    ...nameFindings(names),
  ]
}
