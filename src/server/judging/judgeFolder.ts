import { clickColumns } from '@/core/intake/clicks'
import { buildDataset, type Dataset, type Records } from '@/core/intake/dataset'
import type { Reject } from '@/core/intake/fields'
import { ALL_RESULTS, JUDGED_RESULT } from '@/core/intake/judgedResult'
import { entitiesOfRow } from '@/core/intake/rowEntities'
import { settingsSchema } from '@/core/intake/settings'
import type { Level } from '@/core/intake/tree'
import type { Period } from '@/core/shared/days'
import { evidenceAmong } from '@/core/weigh/engine'
import { gatherEvidence } from '@/core/weigh/evidence'
import { judge } from '@/core/weigh/judge'
import { reportJudgement } from '@/core/weigh/report'
import { type Folder, fileName } from '@/formats/folder'
import { findingsOf } from './findings'
import { readFolderInThreads } from './readInThreads'

/** What a folder's files say, as the core takes it. */
export function recordsOf({ files, clicks, settings }: Folder): Records {
  const results = settings?.results ?? []
  const orders = files.orders?.records ?? []
  return {
    definitions: results,
    decisions: settings?.decisions ?? [],
    slots: results.flatMap(({ id, slots }) =>
      Object.entries(slots).map(([network, slot]) => ({ network, slot, result: id })),
    ),
    delivery: files.delivery?.records ?? [],
    clicks: clicks?.columns ?? clickColumns([]),
    orders,
    claims: files.claims?.records ?? [],
    claimRows: files['claim-rows']?.records ?? [],
    names: (files.ads?.records ?? [])
      .flatMap(entitiesOfRow)
      .flatMap(t => (t.name === null ? [] : { ...t, name: t.name })),
    rates: (files.rates?.records ?? []).map(r => ({
      day: r.date,
      base: r.base,
      quote: r.quote,
      rate: r.rate,
    })),
  }
}

/** A result was asked for of which the folder knows nothing. */
export class NoSuchResult extends Error {}

/** A folder of exchange files with what its files say of one result. */
export async function gatherFolder(dir: string, result = JUDGED_RESULT) {
  const folder = await readFolderInThreads(dir)
  const records = recordsOf(folder)
  const build = (one: string) => buildDataset(records, folder.settings ?? settingsSchema.parse({}), one)
  const data = build(result === ALL_RESULTS ? JUDGED_RESULT : result)
  const known = [
    ...new Set([
      JUDGED_RESULT,
      ...(folder.settings?.results ?? []).map(d => d.id),
      ...data.otherResults.keys(),
      ...(data.orders.length > 0 ? [result] : []),
    ]),
  ]
  if (result !== ALL_RESULTS && !known.includes(result))
    throw new NoSuchResult(`There is no result "${result}" in ${dir}. There are: ${known.join(', ')}.`)
  const evidence = evidenceAmong(records, result, one =>
    gatherEvidence(one === data.result ? data : build(one)),
  )
  return { folder, evidence }
}

/**
 * Judges a folder of exchange files with no database.
 *
 * @throws NoSuchResult where nothing is known of the result
 */
export async function judgeFolder(dir: string, level: Level, period: Period, result?: string) {
  const { folder, evidence } = await gatherFolder(dir, result)
  const { data } = evidence
  const rejects = rejectsOf(folder, data)
  const rows = Object.values(folder.files).reduce((sum, file) => sum + file.records.length, 0)
  return {
    report: reportJudgement(
      evidence,
      judge(evidence, period),
      data.settings,
      level,
      findingsOf(evidence, period, rejects),
    ),
    rejects,
    read: rows + (folder.clicks?.read ?? 0) - data.setAside.length,
    empty: rows === 0 && Object.keys(folder.files).length === 0 && !folder.clicks,
  }
}

/** Rejected rows of all files, those without a rate among them, each with the line it stands on. */
function rejectsOf({ files, clicks }: Folder, data: Dataset): (Reject & { file: string })[] {
  const read = [...Object.values(files), ...(clicks ? [{ kind: 'clicks' as const, ...clicks }] : [])]
  const noRate = data.setAside.map(({ file, row, reason, currency }) => ({
    file: fileName(file),
    line: files[file]?.lines[row] ?? 0,
    column: 'currency',
    reason,
    value: currency,
  }))
  return [...read.flatMap(file => file.rejected.map(r => ({ ...r, file: fileName(file.kind) }))), ...noRate]
}
