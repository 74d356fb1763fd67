'use client'
import { Button, Flex } from '@chakra-ui/react'
import type { SortingState } from '@tanstack/react-table'
import dynamic from 'next/dynamic'
import { useSearchParams } from 'next/navigation'
import { memo, useMemo } from 'react'
import { pathKey } from '@/core/shared/path'
import type { NameDimension } from '@/core/weigh/byPart'
import { type JudgedRow, pathAbove } from '@/core/weigh/rows'
import { isOfTime, segmentKinds, segmentOfPart, segmentPart } from '@/core/weigh/segments'
import type { WeighedRow } from '@/core/weigh/weighRow'
import type { Spark, WeighView } from '@/server/compute/views/weigh'
import { useFormats } from '../format'
import { SelectField } from '../parts/Fields'
import { Later } from '../parts/Later'
import type { Column } from '../parts/table/columns'
import { DataTable } from '../parts/table/DataTable'
import { useServer } from '../parts/useServer'
import { useNetworkName } from '../shell/NetworkNames'
import { useResultName, useResultWords } from '../shell/ResultWords'
import { useNoted, useScope } from '../shell/useScope'
import { type ColumnSet, columnSets, setWords } from './columnSets'
import { conversionColumn, stepColumns, weighColumns } from './columns'
import { isInState, lastTold, readConditions, type State, states, stateWords } from './filters'
import { PlanCell } from './plan/PlanCell'
import type { Plan } from './plan/usePlan'
import { segmentWords } from './segmentWords'
import { useColumnSet } from './useColumnSet'
import type { WeighFacts, WeighRow } from './weighFacts'

const ColumnSets = dynamic(() => import('./ColumnSets').then(m => m.ColumnSets), { ssr: false })
const FigureFilter = dynamic(() => import('./FigureFilter').then(m => m.FigureFilter), { ssr: false })

const levelWords = { campaign: 'campaign', ad_set: 'ad set', ad: 'ad' } as const

/** What a file says of each row: its level, its network and the IDs down to it, and both ends of its range. */
const rowIds: Column<WeighRow>[] = [
  { id: 'level', value: r => r.level },
  { id: 'network_id', value: r => r.network },
  { id: 'row_id', value: r => r.id },
  { id: 'parent_id', value: r => r.parentId ?? '' },
  { id: 'estimated_low', value: r => r.low },
  { id: 'estimated_high', value: r => r.high },
]

/** Campaigns with their ad sets and ads below. */
function asTree(rows: readonly WeighedRow[]): WeighRow[] {
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

/** The table of Weigh; what stands beside it opens and closes without its being drawn again. */
export const WeighTable = memo(function WeighTable({
  view,
  before,
  totals,
  dimensions,
  below,
  problem,
  journeys,
  plan,
  why,
}: {
  view: WeighView
  before: WeighView | null
  totals: JudgedRow
  dimensions: readonly NameDimension[]
  /** ad sets and ads; not there yet, or none where rows are by something else */
  below: readonly WeighedRow[] | undefined
  problem: string | null
  journeys: readonly { id: string; name: string }[]
  plan: Plan
  why: (row: WeighedRow) => void
}) {
  const formats = useFormats()
  const { set, changing } = useScope()
  const networkName = useNetworkName()
  const resultName = useResultName()
  const words = useResultWords()
  const address = useSearchParams().toString()
  const { answer: belowBefore } = useServer<JudgedRow[]>(
    before && view.by === null ? `/api/weigh?${queryOf(address)}&beside=before&of=before` : null,
  )
  const sets = useColumnSet()
  const [walk, chooseWalk] = useNoted('journey', '')
  const [state, chooseState] = useNoted('show', 'all')
  const [where, setWhere] = useNoted('where', '')
  const plain = view.by === null
  const { answer: sparks } = useServer<Record<string, Spark>>(
    plain ? `/api/weigh/sparks?${queryOf(address)}` : null,
  )
  const conversionsAsked = plain && sets.from === 'networks_word'
  const { answer: conversions } = useServer<NonNullable<WeighFacts['more']['conversions']>>(
    conversionsAsked ? `/api/weigh/conversions?${queryOf(address)}` : null,
  )
  const { answer: steps } = useServer<NonNullable<WeighFacts['more']['steps']>>(
    plain && walk ? `/api/weigh/steps?${queryOf(address)}&journey=${encodeURIComponent(walk)}` : null,
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
      most,
      before: rowsBefore && new Map(rowsBefore.map(row => [pathKey(...row.path), row])),
      more: { sparks, conversions: conversionsAsked ? conversions : undefined, steps },
      words,
      networkName,
      resultName,
      captures: view.captures,
      elasticity: plan.draft.rules.elasticity,
      why,
    }
  }, [
    view,
    before,
    belowBefore,
    totals.path,
    formats,
    sparks,
    conversions,
    conversionsAsked,
    steps,
    words,
    networkName,
    resultName,
    plan.draft.rules.elasticity,
    why,
  ])
  const columns = useMemo(() => {
    const added = [
      ...(facts.more.steps?.steps ?? []).flatMap(step => Object.values(stepColumns(step))),
      ...(facts.more.conversions?.names ?? []).map(conversionColumn),
    ]
    const chosen: readonly string[] = facts.more.steps ? ['verdict', 'spend'] : columnSets[sets.from]
    const isPlanning = plan.open && plain
    return weighColumns(
      facts,
      // The trend makes room for the budgets.
      [...chosen.filter(id => !(isPlanning && id === 'spark')), ...added],
      isPlanning
        ? [
            {
              id: 'plan',
              heading: 'budget',
              width: 96,
              hint: 'what is to become of its budget; nothing happens before you make the moves',
              value: row => plan.factorOf(row.path),
              cell: row => (row.level === 'total' ? null : <PlanCell row={row} plan={plan} />),
            },
          ]
        : [],
    )
  }, [facts, sets.from, plan, plain])
  const conditions = useMemo(() => readConditions(where), [where])
  const lastOf = useMemo(() => lastTold(view), [view])
  const chosenState: State = states.find(one => one === state) ?? 'all'
  const fits = useMemo(() => {
    if (chosenState === 'all' && conditions.length === 0) return undefined
    const figures = conditions.flatMap(condition => {
      const column = columns.find(one => one.id === condition.figure)
      return column ? [{ ...condition, column }] : []
    })
    return (row: WeighRow) =>
      isInState(chosenState, row, lastOf(row)) &&
      figures.every(({ column, than, value }) => {
        const own = column.value(row)
        if (typeof own !== 'number') return false
        const scaled = value * (column.as === 'amount' ? plan.minorUnits : column.as === 'share' ? 0.01 : 1)
        return than === 'least' ? own >= scaled : own <= scaled
      })
  }, [chosenState, conditions, columns, lastOf, plan.minorUnits])
  return (
    <DataTable
      key={sets.asked}
      label="Campaigns, ad sets and ads"
      name={`weigh-${sets.asked}`}
      columns={columns}
      ofRow={rowIds}
      rows={data}
      rowId={row => pathKey(...row.path)}
      below={row => row.below}
      belowWords={view.by ? ['Show campaigns', 'Without campaigns'] : ['Show every ad', 'Campaigns only']}
      sorted={usualSorting(view.by ?? undefined)}
      total={{ ...totals, below: [], firstSpent: null, lastSpent: null, doubts: [], tires: [], active: null }}
      strong={row => row.level === 'part' || (row.level === 'campaign' && pathAbove(row) === null)}
      foundBy={row => `${row.id} ${networkName(row.network)}`}
      filterLabel="Filter by name"
      fits={fits}
      enter={why}
      {...(plain
        ? {
            act: (marked: readonly WeighRow[], clear: () => void) => (
              <Flex gap="2" wrap="wrap">
                {(
                  [
                    ['Cut', 0],
                    ['Halve', 0.5],
                    ['20 % less', 0.8],
                    ['20 % more', 1.2],
                    ['Half as much more', 1.5],
                    ['As it is', 1],
                  ] as const
                ).map(([does, factor]) => (
                  <Button
                    key={does}
                    onClick={() => {
                      plan.change(marked.map(row => ({ path: row.path, factor })))
                      clear()
                    }}
                  >
                    {does}
                  </Button>
                ))}
                <Button onClick={clear}>Unmark</Button>
              </Flex>
            ),
          }
        : {})}
      main
      tools
      height="100%"
      bar={
        <>
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
          {segmentOfPart(view.by ?? undefined) && view.by !== segmentPart('weekday') && (
            <SelectField
              unseen
              label="Spend that no report splits"
              value={address.includes('spend=by_clicks') ? 'by_clicks' : ''}
              change={spend => set({ spend })}
              choices={[
                ['', 'spend as reported'],
                ['by_clicks', 'share spend by clicks'],
              ]}
            />
          )}
          <SelectField
            unseen
            label="Which rows"
            value={chosenState}
            change={chooseState}
            choices={states.map(id => [id, stateWords[id]] as const)}
          />
          <Later
            words={conditions.length > 0 ? `Figures (${conditions.length})` : 'Figures'}
            Part={FigureFilter}
            conditions={conditions}
            set={setWhere}
            columns={columns.filter(one => one.id !== 'name' && one.id !== 'verdict' && one.id !== 'spark')}
          />
          <SelectField
            unseen
            label="Columns for"
            value={sets.asked}
            change={sets.choose}
            choices={[
              ...(Object.keys(columnSets) as ColumnSet[]).map(id => [id, `for ${setWords[id]}`] as const),
              ...(sets.own.length > 0
                ? [
                    {
                      heading: 'your own',
                      choices: sets.own.map(one => [`own.${one.name}`, one.name] as const),
                    },
                  ]
                : []),
            ]}
          />
          {journeys.length > 0 && plain && (
            <SelectField
              unseen
              label="Steps of"
              value={walk}
              change={chooseWalk}
              choices={[
                ['', 'no steps'],
                ...journeys.map(({ id, name }) => [id, `steps of ${name}`] as const),
              ]}
            />
          )}
          <Later words="Keep columns" Part={ColumnSets} sets={sets} />
        </>
      }
      still={
        plain && problem
          ? `ad sets and ads could not be fetched: ${problem}`
          : plain && !below
            ? 'ad sets and ads are on their way …'
            : changing
              ? '…'
              : ''
      }
    />
  )
})

/** What of an address columns that are fetched go by. */
export function queryOf(address: string): string {
  const all = new URLSearchParams(address)
  const kept = new URLSearchParams()
  for (const key of ['from', 'to', 'network', 'result']) {
    const value = all.get(key)
    if (value) kept.set(key, value)
  }
  return kept.toString()
}
