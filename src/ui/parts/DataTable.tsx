'use client'
import { Box, Button, Flex, Input, Table, Text, VisuallyHidden } from '@chakra-ui/react'
import {
  type ColumnDef,
  type ExpandedState,
  getCoreRowModel,
  getExpandedRowModel,
  getGroupedRowModel,
  getSortedRowModel,
  type RowSelectionState,
  type SortingState,
  type Row as TableRow,
  useReactTable,
} from '@tanstack/react-table'
import { useVirtualizer } from '@tanstack/react-virtual'
import { ChevronDown, ChevronRight } from 'lucide-react'
import dynamic from 'next/dynamic'
import { Fragment, type ReactNode, useDeferredValue, useMemo, useRef, useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { useFormats } from '../format'
import { SelectField } from './Fields'
import { Later } from './Later'
import { MarkBox } from './Plain'
import { saveFile } from './saveFile'
import { type Column, cellsOf, headingOf, holds, pasted, written } from './tableColumns'
import { useLayout } from './useLayout'

const ColumnsMenu = dynamic(() => import('./TableColumnsMenu').then(m => m.TableColumnsMenu), { ssr: false })

/** Shorter tables are shown whole, so that the browser's own search finds what is in them. */
const LONG = 120
const ROW_PX = 27

interface Props<Row> {
  /** what it is a table of; read out, and the name of its file */
  label: string
  columns: readonly Column<Row>[]
  rows: readonly Row[]
  rowId: (row: Row) => string
  /** under which its columns are kept by person; none leaves them as they are */
  name?: string
  /** begins sorted so */
  sorted?: SortingState
  /** what stands below a row and is shown when it is opened */
  below?: (row: Row) => readonly Row[] | undefined
  /** what opens and closes all that is below */
  belowWords?: readonly [open: string, close: string]
  /** whether all that is below stands open to begin with */
  opened?: boolean
  /** what a row shows across the table while it is opened */
  detail?: (row: Row) => ReactNode
  /** what Enter does on a row */
  enter?: (row: Row) => void
  /** what can be done with rows that are marked */
  act?: (marked: readonly Row[], clear: () => void) => ReactNode
  /** the line of sums, which stands still above the others */
  total?: Row | null
  /** by what a row is found besides what stands in its cells */
  foundBy?: (row: Row) => string
  filterLabel?: string
  /** whether a row is quieter than the others */
  quiet?: (row: Row) => boolean
  strong?: (row: Row) => boolean
  /** the row that something beside the table is about */
  chosen?: string | null
  /** whether its keys work without its being focused: the table of its page */
  main?: boolean
  /** whether it can be filtered by words and saved as a file; a small table needs neither */
  tools?: boolean
  /** what is still going on */
  still?: string
  /** what stands in the line above it, beside its own tools */
  bar?: ReactNode
  /** height that it fills and scrolls in; as high as its rows otherwise */
  height?: string
  empty?: ReactNode
}

/**
 * A table: sorted, filtered, copied and moved about in like every other. Its cells are plain elements, of which
 * those in sight are made; what they look like is said in the theme.
 */
export function DataTable<Row>(props: Props<Row>) {
  const {
    label,
    columns,
    rows,
    rowId,
    name,
    below,
    detail,
    enter,
    act,
    total,
    foundBy,
    main = false,
    height,
  } = props
  const formats = useFormats()
  const { count, currency } = formats
  const filterLabel = props.filterLabel ?? 'Filter by words'
  const tools = props.tools ?? rows.length > 12
  const [filter, setFilter] = useState('')
  const [picked, setPicked] = useState<Record<string, string>>({})
  const [sorting, setSorting] = useState<SortingState>(props.sorted ?? [])
  const [expanded, setExpanded] = useState<ExpandedState>(props.opened ? true : {})
  const [grouping, setGrouping] = useState<string[]>([])
  const [marks, setMarks] = useState<RowSelectionState>({})
  const [here, setHere] = useState(main ? 0 : -1)
  const scroller = useRef<HTMLDivElement>(null)
  const filterField = useRef<HTMLInputElement>(null)
  const wanted = useDeferredValue(filter)
  const { layout, set, shared } = useLayout(name, columns as readonly Column<never>[])

  /** the rows that fit, or below which some do; of those that do not fit themselves, only what does below them */
  const [found, belowFound] = useMemo(() => {
    const words = wanted.toLowerCase().split(/\s+/).filter(Boolean)
    const kept = new Map<Row, readonly Row[]>()
    if (words.length === 0 && Object.values(picked).every(v => !v)) return [rows, kept]
    const fits = (row: Row) =>
      holds(columns, row, words, currency, foundBy?.(row)) &&
      columns.every(c => !picked[c.id] || String(c.value(row) ?? '') === picked[c.id])
    const keeps = (row: Row): boolean => {
      if (fits(row)) return true
      const some = (below?.(row) ?? []).filter(keeps)
      kept.set(row, some)
      return some.length > 0
    }
    return [rows.filter(keeps), kept]
  }, [rows, columns, below, wanted, picked, foundBy, currency])
  const filtered = found !== rows

  const definitions = useMemo<ColumnDef<Row>[]>(
    () =>
      columns.map(c => ({
        id: c.id,
        header: headingOf(c),
        accessorFn: row => c.value(row) ?? undefined,
        sortUndefined: 'last',
        sortDescFirst: !c.words,
        size: c.width ?? (c.words ? 180 : 90),
        minSize: 40,
      })),
    [columns],
  )
  const table = useReactTable<Row>({
    data: found as Row[],
    columns: definitions,
    state: {
      sorting,
      expanded: filtered && below ? true : expanded,
      rowSelection: marks,
      grouping,
    },
    onSortingChange: setSorting,
    onExpandedChange: setExpanded,
    onRowSelectionChange: setMarks,
    ...(below ? { getSubRows: (row: Row) => (belowFound.get(row) ?? below(row)) as Row[] | undefined } : {}),
    getRowId: rowId,
    getRowCanExpand: row => detail !== undefined || (row.subRows?.length ?? 0) > 0,
    getCoreRowModel: getCoreRowModel(),
    getSortedRowModel: getSortedRowModel(),
    getGroupedRowModel: getGroupedRowModel(),
    getExpandedRowModel: getExpandedRowModel(),
    // Nothing is paged; a reset would begin anew what is still coming alive, again and again.
    autoResetAll: false,
    groupedColumnMode: false,
    enableSubRowSelection: false,
  })
  const shownRows = table.getRowModel().rows
  const byId = new Map(columns.map(c => [c.id, c]))
  const shown = layout.order.filter(id => !layout.hidden.includes(id)).flatMap(id => byId.get(id) ?? [])
  const long = shownRows.length > LONG && height !== undefined && !detail
  const virtual = useVirtualizer({
    count: shownRows.length,
    enabled: long,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_PX,
    overscan: 16,
  })
  const inSight = virtual.getVirtualItems()
  const [before, after] = long
    ? [inSight[0]?.start ?? 0, virtual.getTotalSize() - (inSight.at(-1)?.end ?? 0)]
    : [0, 0]
  const drawn = long ? inSight.flatMap(item => shownRows[item.index] ?? []) : shownRows
  const marked = shownRows.filter(row => row.getIsSelected() && !row.getIsGrouped())

  const goTo = (index: number) => {
    const next = Math.max(0, Math.min(shownRows.length - 1, index))
    setHere(next)
    if (long) virtual.scrollToIndex(next)
    else scroller.current?.querySelector(`[data-row="${next}"]`)?.scrollIntoView({ block: 'nearest' })
  }
  const current = shownRows[here]
  const page = Math.max(1, Math.floor((scroller.current?.clientHeight ?? 400) / ROW_PX) - 2)
  const copy = () => {
    const chosen = marked.length > 0 ? marked : current ? [current] : []
    if (chosen.length > 0 && !window.getSelection()?.toString())
      void navigator.clipboard.writeText(
        pasted(
          shown,
          chosen.map(row => row.original),
          currency,
        ),
      )
  }
  const steps: Record<string, () => void> = {
    arrowdown: () => goTo(here + 1),
    j: () => goTo(here + 1),
    arrowup: () => goTo(here - 1),
    k: () => goTo(here - 1),
    home: () => goTo(0),
    end: () => goTo(shownRows.length - 1),
    pagedown: () => goTo(here + page),
    pageup: () => goTo(here - page),
    arrowright: () => current?.toggleExpanded(true),
    l: () => current?.toggleExpanded(true),
    arrowleft: () => current?.toggleExpanded(false),
    h: () => current?.toggleExpanded(false),
    x: () => act && current?.toggleSelected(),
    enter: () => {
      if (!current) return
      if (enter && !current.getIsGrouped()) enter(current.original)
      else current.toggleExpanded()
    },
  }
  const own = useHotkeys<HTMLDivElement>(
    Object.keys(steps),
    event => {
      const at = event.target
      if (at instanceof HTMLElement && /^(BUTTON|A|SUMMARY)$/.test(at.tagName) && event.key === 'Enter')
        return
      event.preventDefault()
      steps[event.key.toLowerCase()]?.()
    },
    { useKey: true },
    [here, shownRows, marks, page],
  )
  useHotkeys('mod+c', copy, { enabled: main }, [here, marked, shown])
  useHotkeys(
    'slash',
    event => {
      event.preventDefault()
      filterField.current?.focus()
    },
    { enabled: main && tools },
  )
  const save = async () => {
    const { default: Papa } = await import('papaparse')
    const text = Papa.unparse(
      cellsOf(
        shown,
        shownRows.filter(row => !row.getIsGrouped()).map(row => row.original),
        currency,
      ),
      { escapeFormulae: true },
    )
    saveFile(`${label.toLowerCase().replace(/[^a-z0-9]+/g, '-')}.csv`, text, 'text/csv')
  }

  const nameOf = (row: TableRow<Row>) =>
    String((row.getIsGrouped() ? row.groupingValue : shown[0]?.value(row.original)) ?? 'it')
  const expander = (row: TableRow<Row>) =>
    row.subRows.length > 0 ? (
      <Button
        variant="ghost"
        aria-expanded={row.getIsExpanded()}
        aria-label={`${row.getIsExpanded() ? 'Hide' : 'Show'} what is below ${nameOf(row)}`}
        onClick={row.getToggleExpandedHandler()}
      >
        {row.getIsExpanded() ? <ChevronDown size={14} /> : <ChevronRight size={14} />}
      </Button>
    ) : (
      <Box as="span" width="14px" flexShrink={0} />
    )
  const opens = below !== undefined
  const span = shown.length + (act ? 1 : 0)
  const look = (column: Column<Row>) => ({
    ...(column.words ? { 'data-words': '' } : {}),
    ...(column.wraps ? { 'data-wraps': '' } : {}),
  })
  const cells = (row: Row, depth: number, before: ReactNode, within?: TableRow<Row>) =>
    shown.map((column, i) => {
      const content = written(column, row, formats)
      const width = layout.widths[column.id]
      const style = width ? { maxWidth: width, overflow: 'hidden', textOverflow: 'ellipsis' } : undefined
      return i === 0 ? (
        <th
          key={column.id}
          scope="row"
          {...look(column)}
          data-first
          style={{ ...style, paddingLeft: 8 + depth * 16 }}
        >
          <Flex gap="1" align="start">
            {before}
            <Box minWidth="0" flex="1">
              {detail && within ? (
                <Button
                  variant="plain"
                  aria-expanded={within.getIsExpanded()}
                  onClick={within.getToggleExpandedHandler()}
                >
                  {content}
                </Button>
              ) : (
                content
              )}
            </Box>
          </Flex>
        </th>
      ) : (
        <td key={column.id} {...look(column)} style={style}>
          {content}
        </td>
      )
    })
  return (
    <Box minHeight="0" display="flex" flexDirection="column" height={height}>
      {(tools || props.bar) && (
        <Flex gap="2" align="center" wrap="wrap" py="2" fontSize="13px" className="no-print">
          {tools && (
            <Input
              ref={filterField}
              width="220px"
              aria-label={filterLabel}
              placeholder={main ? `${filterLabel}  /` : filterLabel}
              value={filter}
              onChange={event => setFilter(event.target.value)}
            />
          )}
          {columns
            .filter(c => c.pick)
            .map(c => (
              <SelectField
                key={c.id}
                label={headingOf(c)}
                unseen
                value={picked[c.id] ?? ''}
                change={value => setPicked({ ...picked, [c.id]: value })}
                choices={[
                  ['', `any ${headingOf(c)}`],
                  ...[...new Set(rows.map(row => String(c.value(row) ?? '')))]
                    .filter(Boolean)
                    .sort()
                    .map(value => [value, value] as const),
                ]}
              />
            ))}
          {columns.some(c => c.pick) && (
            <SelectField
              label="Grouped by"
              unseen
              value={grouping[0] ?? ''}
              change={by => {
                setGrouping(by ? [by] : [])
                setExpanded(true)
              }}
              choices={[
                ['', 'not grouped'],
                ...columns.filter(c => c.pick).map(c => [c.id, `by ${headingOf(c)}`] as const),
              ]}
            />
          )}
          {props.bar}
          {props.belowWords && (
            <Button onClick={() => table.toggleAllRowsExpanded()}>
              {props.belowWords[table.getIsAllRowsExpanded() ? 1 : 0]}
            </Button>
          )}
          {tools && (
            <>
              <Text color="quiet" aria-live="polite">
                {filtered ? `${count(found.length)} of ` : ''}
                {count(filtered ? rows.length : shownRows.length)}{' '}
                {(filtered ? rows : shownRows).length === 1 ? 'row' : 'rows'}
                {props.still && `; ${props.still}`}
              </Text>
              <Flex ml="auto" gap="2">
                {name && (
                  <Later
                    words="Columns"
                    Part={ColumnsMenu}
                    columns={columns}
                    layout={layout}
                    set={set}
                    shared={shared}
                  />
                )}
                <Button onClick={() => void save()}>CSV of what is shown</Button>
              </Flex>
            </>
          )}
        </Flex>
      )}
      {act && marked.length > 0 && (
        <Flex
          gap="2"
          align="center"
          wrap="wrap"
          p="2"
          bg="mark"
          fontSize="13px"
          role="group"
          aria-label="With those marked"
        >
          {count(marked.length)} marked
          {act(
            marked.map(row => row.original),
            () => setMarks({}),
          )}
        </Flex>
      )}
      <Box
        ref={(node: HTMLDivElement | null) => {
          scroller.current = node
          if (!main) own(node)
        }}
        flex={height ? '1' : undefined}
        minHeight={height ? '200px' : '0'}
        overflow="auto"
        tabIndex={0}
        role="region"
        aria-label={label}
        onKeyDown={event => !main && event.key === 'c' && (event.ctrlKey || event.metaKey) && copy()}
      >
        <Table.Root
          aria-label={label}
          aria-rowcount={shownRows.length + (total ? 2 : 1)}
          width={height ? '100%' : 'auto'}
          minWidth="40%"
        >
          <Box as="thead" position="sticky" top="0" zIndex="2" bg="paper">
            <tr>
              {act && (
                <th>
                  <MarkBox
                    name="all that are shown"
                    marks={marked.length === 0 ? 'none' : marked.length === shownRows.length ? 'all' : 'some'}
                    mark={() => table.toggleAllRowsSelected()}
                  />
                </th>
              )}
              {shown.map(column => {
                const of = table.getColumn(column.id)!
                const way = of.getIsSorted()
                return (
                  <th
                    key={column.id}
                    scope="col"
                    {...look(column)}
                    aria-sort={way === 'asc' ? 'ascending' : way === 'desc' ? 'descending' : 'none'}
                    style={{ width: layout.widths[column.id] ?? column.width }}
                  >
                    {column.heading === '' ? (
                      <VisuallyHidden>what can be done</VisuallyHidden>
                    ) : (
                      <Button
                        variant="ghost"
                        title={[column.hint, 'Sorts by it; with Shift, by it as well.']
                          .filter(Boolean)
                          .join('. ')}
                        textAlign="inherit"
                        whiteSpace="inherit"
                        fontWeight={way ? '700' : 'inherit'}
                        color={way ? 'ink' : 'inherit'}
                        onClick={of.getToggleSortingHandler()}
                      >
                        {headingOf(column)}
                        {way === 'asc' ? ' ↑' : way === 'desc' ? ' ↓' : ''}
                      </Button>
                    )}
                    {name && (
                      <WidthGrip
                        of={headingOf(column)}
                        drag={width => set({ ...layout, widths: { ...layout.widths, [column.id]: width } })}
                      />
                    )}
                  </th>
                )
              })}
            </tr>
            {total && (
              <tr data-total="">
                {act && <td />}
                {cells(total, 0, opens && <Box width="14px" />)}
              </tr>
            )}
          </Box>
          <tbody>
            {before > 0 && <tr style={{ height: before }} aria-hidden />}
            {drawn.map(row => {
              const index = long
                ? (inSight.find(item => shownRows[item.index] === row)?.index ?? 0)
                : shownRows.indexOf(row)
              const isHere = index === here || (props.chosen !== undefined && props.chosen === row.id)
              return (
                <Fragment key={row.id}>
                  <tr
                    data-long={long ? '' : undefined}
                    data-row={index}
                    data-here={isHere ? '' : undefined}
                    aria-rowindex={index + (total ? 3 : 2)}
                    aria-selected={isHere}
                    data-strong={row.getIsGrouped() || props.strong?.(row.original) ? '' : undefined}
                    data-quiet={props.quiet?.(row.original) ? '' : undefined}
                    onClick={() => setHere(index)}
                  >
                    {act && (
                      <td>
                        <MarkBox
                          name={nameOf(row)}
                          marks={row.getIsSelected() ? 'all' : 'none'}
                          mark={() => row.toggleSelected()}
                        />
                      </td>
                    )}
                    {row.getIsGrouped() ? (
                      <th colSpan={shown.length} scope="rowgroup" data-words="">
                        <Flex gap="1">
                          {expander(row)} {nameOf(row)}
                          <Text as="span" color="quiet">
                            {count(row.subRows.length)}
                          </Text>
                        </Flex>
                      </th>
                    ) : (
                      cells(row.original, row.depth, opens ? expander(row) : null, row)
                    )}
                  </tr>
                  {detail && row.getIsExpanded() && (
                    <tr>
                      <td colSpan={span} data-words="" data-wraps="">
                        {detail(row.original)}
                      </td>
                    </tr>
                  )}
                </Fragment>
              )
            })}
            {after > 0 && <tr style={{ height: after }} aria-hidden />}
            {shownRows.length === 0 && (
              <tr>
                <td colSpan={span} data-words="" data-wraps="">
                  {filtered
                    ? 'Nothing fits what is looked for.'
                    : (props.empty ?? 'There is nothing here yet.')}
                </td>
              </tr>
            )}
          </tbody>
        </Table.Root>
      </Box>
    </Box>
  )
}

/** The edge by which a column is made wider; with the keyboard, by arrows. */
function WidthGrip({ of, drag }: { of: string; drag: (width: number) => void }) {
  const widthOf = (grip: HTMLElement) => grip.parentElement?.getBoundingClientRect().width ?? 90
  return (
    <Box
      as="span"
      role="separator"
      aria-orientation="vertical"
      aria-label={`Width of ${of}`}
      aria-valuenow={0}
      tabIndex={0}
      position="absolute"
      top="0"
      right="0"
      bottom="0"
      width="5px"
      cursor="col-resize"
      touchAction="none"
      onPointerDown={event => {
        const grip = event.currentTarget
        const [from, width] = [event.clientX, widthOf(grip)]
        grip.setPointerCapture(event.pointerId)
        const move = (moved: PointerEvent) => drag(Math.max(40, width + moved.clientX - from))
        grip.addEventListener('pointermove', move)
        grip.addEventListener('pointerup', () => grip.removeEventListener('pointermove', move), {
          once: true,
        })
      }}
      onKeyDown={event => {
        const by = event.key === 'ArrowRight' ? 10 : event.key === 'ArrowLeft' ? -10 : 0
        if (by === 0) return
        event.preventDefault()
        event.stopPropagation()
        drag(Math.max(40, widthOf(event.currentTarget) + by))
      }}
    />
  )
}
