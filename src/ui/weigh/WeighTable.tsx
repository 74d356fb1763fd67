'use client'
import { Box, Button, Flex, Input, Text } from '@chakra-ui/react'
import {
  type ExpandedState,
  getCoreRowModel,
  getExpandedRowModel,
  getSortedRowModel,
  type SortingState,
  useReactTable,
} from '@tanstack/react-table'
import { useVirtualizer } from '@tanstack/react-virtual'
import { ChevronDown, ChevronRight } from 'lucide-react'
import { useSearchParams } from 'next/navigation'
import { useDeferredValue, useEffect, useMemo, useRef, useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { pathKey } from '@/core/shared/path'
import type { NameDimension } from '@/core/weigh/byPart'
import { type JudgedRow, pathAbove, scopeOf } from '@/core/weigh/rows'
import { isOfTime, segmentKinds, segmentOfPart, segmentPart } from '@/core/weigh/segments'
import type { WeighView } from '@/server/compute/views/weigh'
import { usePanel } from '../evidence/PanelContext'
import { tenths } from '../format'
import { Select } from '../parts/Fields'
import { useNetworkName } from '../shell/NetworkNames'
import { useResultWords } from '../shell/ResultWords'
import { useScope } from '../shell/useScope'
import { NAME_WIDTH, tableWidth, titleOf, type WeighFacts, type WeighRow, weighColumns } from './columns'
import { segmentWords } from './segmentWords'

const ROW_HEIGHT = 29
const levelWords = { campaign: 'campaign', ad_set: 'ad set', ad: 'ad' } as const
const indent: Record<JudgedRow['level'], number> = { total: 0, part: 0, campaign: 0, ad_set: 16, ad: 32 }

/** Campaigns with their ad sets and ads below; a name filter keeps what matches and what stands above it. */
function asTree(rows: readonly JudgedRow[], filter: string, networkName: (id: string) => string): WeighRow[] {
  const all = new Map(rows.map(row => [pathKey(...row.path), { ...row, below: [] as WeighRow[] }]))
  const roots: WeighRow[] = []
  for (const row of all.values()) {
    const above = pathAbove(row)
    const parent = above && all.get(pathKey(...above))
    if (parent) parent.below.push(row)
    else roots.push(row)
  }
  const wanted = filter.trim().toLowerCase()
  const matches = (row: WeighRow) =>
    `${titleOf(row)} ${row.id} ${networkName(row.network)}`.toLowerCase().includes(wanted)
  const keep = (row: WeighRow): WeighRow | null => {
    if (matches(row)) return row
    const below = row.below.flatMap(child => keep(child) ?? [])
    return below.length > 0 ? { ...row, below } : null
  }
  return wanted ? roots.flatMap(row => keep(row) ?? []) : roots
}

/** Weekdays and hours as they follow one another; few reports split their spend by other segments. */
const usualSorting = (by: string | undefined): SortingState =>
  isOfTime(by) ? [] : [{ id: segmentOfPart(by) ? 'estimated' : 'spend', desc: true }]

/** The ad sets and ads of a view, once they are here. */
function useRowsBelow(view: WeighView): { rows: JudgedRow[] | null; problem: string | null } {
  const address = useSearchParams().toString()
  const [found, setFound] = useState<{ view: WeighView; rows: JudgedRow[] | null; problem: string | null }>()
  useEffect(() => {
    if (view.by !== null) return
    const asked = new AbortController()
    fetch(`/api/weigh?${address}`, { signal: asked.signal })
      .then(async response => {
        if (!response.ok) throw new Error(`the server answered ${response.status}`)
        setFound({ view, rows: await response.json(), problem: null })
      })
      .catch(error => {
        if (asked.signal.aborted) return
        setFound({ view, rows: null, problem: `; ad sets and ads could not be fetched: ${error.message}` })
      })
    return () => asked.abort()
  }, [address, view])
  return found?.view === view ? found : { rows: null, problem: null }
}

export function WeighTable({
  view,
  totals,
  dimensions,
}: {
  view: WeighView
  totals: JudgedRow
  dimensions: readonly NameDimension[]
}) {
  const [filter, setFilter] = useState('')
  const wanted = useDeferredValue(filter)
  const [sorting, setSorting] = useState<SortingState>(() => usualSorting(view.by ?? undefined))
  const [expanded, setExpanded] = useState<ExpandedState>({})
  const [current, setCurrent] = useState(0)
  const { open } = usePanel()
  const { set, changing } = useScope()
  const scroller = useRef<HTMLDivElement>(null)
  const filterField = useRef<HTMLInputElement>(null)

  const networkName = useNetworkName()
  const below = useRowsBelow(view)
  const data = useMemo(
    () => asTree(view.byPart ?? [...view.campaigns, ...(below.rows ?? [])], wanted, networkName),
    [networkName, view.byPart, view.campaigns, below.rows, wanted],
  )
  const facts = useMemo<WeighFacts>(() => {
    const most = (view.byPart ?? view.campaigns).reduce(
      (m, r) => Math.max(m, r.sums.claimed, r.sums.estimatedTenths / 10),
      1,
    )
    return { currency: view.currency, breakEvenRoas: view.breakEvenRoas, most }
  }, [view])
  const words = useResultWords()
  const columns = useMemo(() => weighColumns(facts, words), [facts, words])
  const table = useReactTable({
    data,
    columns,
    state: { sorting, expanded: wanted ? true : expanded },
    onSortingChange: setSorting,
    onExpandedChange: setExpanded,
    getSubRows: row => row.below,
    getRowId: row => pathKey(...row.path),
    getCoreRowModel: getCoreRowModel(),
    getSortedRowModel: getSortedRowModel(),
    getExpandedRowModel: getExpandedRowModel(),
    enableSortingRemoval: false,
  })
  const { rows } = table.getRowModel()
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 12,
  })

  const move = (by: number) => {
    const next = Math.max(0, Math.min(rows.length - 1, current + by))
    setCurrent(next)
    virtual.scrollToIndex(next)
  }
  const here = rows[current]
  useHotkeys('j, down', () => move(1), { preventDefault: true }, [current, rows])
  useHotkeys('k, up', () => move(-1), { preventDefault: true }, [current, rows])
  useHotkeys('l, right', () => here?.toggleExpanded(true), [here])
  useHotkeys('h, left', () => here?.toggleExpanded(false), [here])
  useHotkeys(
    'enter',
    event => {
      if (event.target instanceof HTMLElement && /^(BUTTON|A|INPUT)$/.test(event.target.tagName)) return
      // The panel takes the focus: without this the same key press would close it again.
      event.preventDefault()
      if (here)
        open({
          figure: 'estimated',
          scope: scopeOf(here.original),
          of: titleOf(here.original),
          shown: tenths(here.original.sums.estimatedTenths / 10),
        })
    },
    [here],
  )
  useHotkeys('slash', event => {
    event.preventDefault()
    filterField.current?.focus()
  })

  return (
    <Flex direction="column" flex="1" minHeight="0">
      <Flex px="5" pb="2" gap="3" align="center" fontSize="13px">
        <Input
          ref={filterField}
          style={{ width: 240 }}
          aria-label="Filter by name"
          placeholder="Filter by name, ID or network  /"
          value={filter}
          onChange={e => setFilter(e.target.value)}
        />
        <Select aria-label="Rows by" value={view.by ?? ''} onChange={e => set({ by: e.target.value })}>
          <option value="">by campaign</option>
          {dimensions.map(({ id, part, level }) => (
            <option key={id} value={id}>
              by {part}, in {levelWords[level]} names
            </option>
          ))}
          {segmentKinds.map(kind => (
            <option key={kind} value={segmentPart(kind)}>
              by {segmentWords[kind]}
            </option>
          ))}
        </Select>
        <Button onClick={() => table.toggleAllRowsExpanded()}>
          {view.by
            ? table.getIsAllRowsExpanded()
              ? 'Without campaigns'
              : 'Show campaigns'
            : table.getIsAllRowsExpanded()
              ? 'Campaigns only'
              : 'Show every ad'}
        </Button>
        <Text color="quiet" aria-live="polite">
          {rows.length} rows{wanted ? ` for “${wanted}”` : ''}
          {view.by ? '' : (below.problem ?? (below.rows ? '' : '; ad sets and ads are on their way …'))}
          {changing && ' …'}
        </Text>
      </Flex>
      <Box
        ref={scroller}
        flex="1"
        overflow="auto"
        borderTopWidth="1px"
        borderColor="hairline"
        tabIndex={0}
        role="region"
        aria-label="Campaigns, ad sets and ads"
      >
        <Box
          role="table"
          aria-label="Campaigns, ad sets and ads"
          aria-rowcount={rows.length + 2}
          minWidth={`${tableWidth}px`}
          fontSize="12.5px"
        >
          <Box role="rowgroup" position="sticky" top="0" zIndex="2" bg="paper">
            <Flex role="row" borderBottomWidth="1px" borderColor="ink" align="flex-end" height="36px">
              <Text role="columnheader" width={`${NAME_WIDTH}px`} pl="5" pb="1" color="quiet" flexShrink={0}>
                money in {view.currency}
              </Text>
              {table.getFlatHeaders().map(header => {
                const sorted = header.column.getIsSorted()
                const hint = (header.column.columnDef.meta as { hint: string }).hint
                return (
                  <Box
                    key={header.id}
                    role="columnheader"
                    aria-sort={sorted === 'asc' ? 'ascending' : sorted === 'desc' ? 'descending' : 'none'}
                    width={`${header.getSize()}px`}
                    flexShrink={0}
                    flexGrow={1}
                    textAlign="right"
                    px="1.5"
                    pb="1"
                    lineHeight="1.1"
                  >
                    <Button
                      variant="ghost"
                      textAlign="right"
                      title={hint}
                      fontWeight={sorted ? 700 : 400}
                      color={sorted ? 'ink' : 'quiet'}
                      onClick={header.column.getToggleSortingHandler()}
                    >
                      {String(header.column.columnDef.header)}
                      {sorted === 'asc' ? ' ↑' : sorted === 'desc' ? ' ↓' : ''}
                    </Button>
                  </Box>
                )
              })}
            </Flex>
            <Row
              row={{ ...totals, below: [] }}
              cells={columns.map((c, i) => ({
                id: String(c.id),
                width: c.size ?? 60,
                node: totalCell(columns[i]!, totals),
              }))}
              bold
            />
          </Box>
          <Box role="rowgroup" height={`${virtual.getTotalSize()}px`} position="relative">
            {virtual.getVirtualItems().map(item => {
              const row = rows[item.index]!
              return (
                <Box
                  key={row.id}
                  position="absolute"
                  top="0"
                  left="0"
                  right="0"
                  transform={`translateY(${item.start}px)`}
                >
                  <Row
                    row={row.original}
                    index={item.index + 3}
                    current={item.index === current}
                    select={() => setCurrent(item.index)}
                    expander={
                      row.getCanExpand()
                        ? { expanded: row.getIsExpanded(), toggle: row.getToggleExpandedHandler() }
                        : null
                    }
                    cells={row.getVisibleCells().map(cell => ({
                      id: cell.column.id,
                      width: cell.column.getSize(),
                      node: (cell.column.columnDef.cell as (context: unknown) => React.ReactNode)(
                        cell.getContext(),
                      ),
                    }))}
                  />
                </Box>
              )
            })}
          </Box>
        </Box>
      </Box>
    </Flex>
  )
}

const totalCell = (column: { cell?: unknown }, totals: JudgedRow) =>
  (column.cell as (context: { row: { original: WeighRow } }) => React.ReactNode)({
    row: { original: { ...totals, below: [] } },
  })

/** A campaign below what a part of names says. */
const inPart = (row: WeighRow): boolean => row.level === 'campaign' && pathAbove(row) !== null

interface RowProps {
  row: WeighRow
  cells: { id: string; width: number; node: React.ReactNode }[]
  index?: number
  bold?: boolean
  current?: boolean
  select?: () => void
  expander?: { expanded: boolean; toggle: () => void } | null
}

function Row({ row, cells, index, bold, current, select, expander }: RowProps) {
  const networkName = useNetworkName()
  const title = titleOf(row)
  return (
    <Flex
      role="row"
      aria-rowindex={index}
      aria-selected={current}
      align="center"
      height={`${ROW_HEIGHT}px`}
      borderBottomWidth="1px"
      borderColor={bold ? 'ink' : 'hairline'}
      fontWeight={bold || row.level === 'part' || (row.level === 'campaign' && !inPart(row)) ? 600 : 400}
      bg={current ? 'mark' : bold ? 'sheet' : 'paper'}
      onClick={select}
    >
      <Flex
        role="rowheader"
        width={`${NAME_WIDTH}px`}
        flexShrink={0}
        pl={`${12 + (inPart(row) ? indent.ad_set : indent[row.level])}px`}
        pr="2"
        align="center"
        gap="1"
        position="sticky"
        left="0"
        bg="inherit"
        zIndex="1"
      >
        {expander ? (
          <Button
            variant="ghost"
            aria-expanded={expander.expanded}
            aria-label={`${expander.expanded ? 'Hide' : 'Show'} what is below ${title}`}
            onClick={expander.toggle}
          >
            {expander.expanded ? <ChevronDown size={14} /> : <ChevronRight size={14} />}
          </Button>
        ) : (
          <Box width="14px" flexShrink={0} />
        )}
        <Text
          truncate
          title={`${title}${row.formerNames.length > 0 ? ` (before: ${row.formerNames.join(', ')})` : ''}`}
          color={row.name ? undefined : 'quiet'}
        >
          {title}
        </Text>
        {row.level === 'campaign' && (
          <Text color="quiet" fontWeight="400" fontSize="11px" flexShrink={0} ml="auto">
            {networkName(row.network)}
          </Text>
        )}
      </Flex>
      {cells.map(cell => (
        <Box
          key={cell.id}
          role="cell"
          width={`${cell.width}px`}
          flexShrink={0}
          flexGrow={1}
          textAlign="right"
          px="1.5"
          whiteSpace="nowrap"
          fontWeight={cell.id === 'cost' ? undefined : 400}
        >
          {cell.node}
        </Box>
      ))}
    </Flex>
  )
}
