'use client'
import type { SortingState } from '@tanstack/react-table'
import { useSearchParams } from 'next/navigation'
import { useMemo } from 'react'
import { pathKey } from '@/core/shared/path'
import type { NameDimension } from '@/core/weigh/byPart'
import { type JudgedRow, pathAbove, scopeOf } from '@/core/weigh/rows'
import { isOfTime, segmentKinds, segmentOfPart, segmentPart } from '@/core/weigh/segments'
import type { WeighView } from '@/server/compute/views/weigh'
import { usePanel } from '../evidence/PanelContext'
import { useFormats } from '../format'
import { SelectField } from '../parts/Fields'
import { DataTable } from '../parts/table/DataTable'
import { useServer } from '../parts/useServer'
import { useNetworkName } from '../shell/NetworkNames'
import { useResultWords } from '../shell/ResultWords'
import { useScope } from '../shell/useScope'
import { titleOf, type WeighFacts, type WeighRow, weighColumns } from './columns'
import { segmentWords } from './segmentWords'

const levelWords = { campaign: 'campaign', ad_set: 'ad set', ad: 'ad' } as const

/** Campaigns with their ad sets and ads below. */
function asTree(rows: readonly JudgedRow[]): WeighRow[] {
  const all = new Map(rows.map(row => [pathKey(...row.path), { ...row, below: [] as WeighRow[] }]))
  const roots: WeighRow[] = []
  for (const row of all.values()) {
    const above = pathAbove(row)
    const parent = above && all.get(pathKey(...above))
    if (parent) parent.below.push(row)
    else roots.push(row)
  }
  return roots
}

/** Weekdays and hours as they follow one another; few reports split their spend by other segments. */
const usualSorting = (by: string | undefined): SortingState =>
  isOfTime(by) ? [] : [{ id: segmentOfPart(by) ? 'estimated' : 'spend', desc: true }]

export function WeighTable({
  view,
  before,
  totals,
  dimensions,
}: {
  view: WeighView
  before: WeighView | null
  totals: JudgedRow
  dimensions: readonly NameDimension[]
}) {
  const formats = useFormats()
  const { tenths } = formats
  const { open } = usePanel()
  const { set, changing } = useScope()
  const networkName = useNetworkName()
  const address = useSearchParams().toString()
  const { answer: below, problem } = useServer<JudgedRow[]>(view.by === null ? `/api/weigh?${address}` : null)
  const { answer: belowBefore } = useServer<JudgedRow[]>(
    before && view.by === null ? `/api/weigh?${address}&of=before` : null,
  )
  const data = useMemo(
    () => asTree(view.byPart ?? [...view.campaigns, ...(below ?? [])]),
    [view.byPart, view.campaigns, below],
  )
  const facts = useMemo<WeighFacts>(() => {
    const most = (view.byPart ?? view.campaigns).reduce(
      (m, r) => Math.max(m, r.sums.claimed, r.sums.estimatedTenths / 10),
      1,
    )
    const rowsBefore = before && [
      { ...before.totals, path: totals.path },
      ...(before.byPart ?? before.campaigns),
      ...(belowBefore ?? []),
    ]
    return {
      ...formats,
      breakEvenRoas: view.breakEvenRoas,
      most,
      before: rowsBefore && new Map(rowsBefore.map(row => [pathKey(...row.path), row])),
    }
  }, [view, before, belowBefore, totals.path, formats])
  const words = useResultWords()
  const columns = useMemo(() => weighColumns(facts, words, networkName), [facts, words, networkName])
  return (
    <DataTable
      label="Campaigns, ad sets and ads"
      name="weigh"
      columns={columns}
      rows={data}
      rowId={row => pathKey(...row.path)}
      below={row => row.below}
      belowWords={view.by ? ['Show campaigns', 'Without campaigns'] : ['Show every ad', 'Campaigns only']}
      sorted={usualSorting(view.by ?? undefined)}
      total={{ ...totals, below: [] }}
      strong={row => row.level === 'part' || (row.level === 'campaign' && pathAbove(row) === null)}
      foundBy={row => `${row.id} ${networkName(row.network)}`}
      filterLabel="Filter by name"
      enter={row =>
        open({
          figure: 'estimated',
          scope: scopeOf(row),
          of: titleOf(row),
          shown: tenths(row.sums.estimatedTenths / 10),
        })
      }
      main
      tools
      height="100%"
      bar={
        <SelectField
          unseen
          label="Rows by"
          value={view.by ?? ''}
          change={by => set({ by })}
          choices={[
            ['', 'by campaign'],
            ...dimensions.map(
              ({ id, part, level }) => [id, `by ${part}, in ${levelWords[level]} names`] as const,
            ),
            ...segmentKinds.map(kind => [segmentPart(kind), `by ${segmentWords[kind]}`] as const),
          ]}
        />
      }
      still={
        view.by === null && problem
          ? `ad sets and ads could not be fetched: ${problem}`
          : view.by === null && !below
            ? 'ad sets and ads are on their way …'
            : changing
              ? '…'
              : ''
      }
    />
  )
}
