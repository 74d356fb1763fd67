import {
  type ColumnDef,
  type ExpandedState,
  getCoreRowModel,
  getExpandedRowModel,
  getGroupedRowModel,
  getSortedRowModel,
  type RowSelectionState,
  type SortingState,
  useReactTable,
} from '@tanstack/react-table'
import { type ReactNode, useDeferredValue, useMemo, useState } from 'react'
import { type Column, headingOf, holds } from './columns'
import { useLayout } from './useLayout'

/** The height of a row in a table that is too long to be drawn whole. */
export const ROW_PX = 27

export interface TableProps<Row> {
  /** what it is a table of; read out, and the name of its file */
  label: string
  columns: readonly Column<Row>[]
  /** what a file says of each row before its columns: where it stands, by IDs */
  ofRow?: readonly Column<Row>[]
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
  /** whether all that is below stands open to begin with, or below which rows */
  opened?: boolean | readonly string[]
  /** what a row shows across the table while it is opened */
  detail?: (row: Row) => ReactNode
  /** what Enter does on a row */
  enter?: (row: Row) => void
  /** what can be done with rows that are marked */
  act?: (marked: readonly Row[], clear: () => void) => ReactNode
  /** the line of sums, which stands still above the others */
  total?: Row | null
  /** whether a row is among those that are looked at; the same function while the same rows are */
  fits?: ((row: Row) => boolean) | undefined
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

const openedFirst = (opened: boolean | readonly string[] = false): ExpandedState =>
  typeof opened === 'boolean' ? opened || {} : Object.fromEntries(opened.map(id => [id, true]))

/** What is chosen of a table's rows and columns, and the rows that it comes to. */
export function useTable<Row>(
  { columns, rows, rowId, name, below, detail, foundBy, fits: among, ...props }: TableProps<Row>,
  currency: string,
) {
  const [filter, setFilter] = useState('')
  const [picked, setPicked] = useState<Record<string, string>>({})
  const [sorting, setSorting] = useState<SortingState>(props.sorted ?? [])
  const [expanded, setExpanded] = useState<ExpandedState>(() => openedFirst(props.opened))
  const [grouping, setGrouping] = useState<string[]>([])
  const [marks, setMarks] = useState<RowSelectionState>({})
  const wanted = useDeferredValue(filter)
  const { layout, set, shared } = useLayout(name, columns as readonly Column<never>[])

  /** the rows that fit, or below which some do; of those that do not fit themselves, only what does below them */
  const [found, belowFound, fitting] = useMemo(() => {
    const words = wanted.toLowerCase().split(/\s+/).filter(Boolean)
    const kept = new Map<Row, readonly Row[]>()
    if (words.length === 0 && !among && Object.values(picked).every(v => !v)) return [rows, kept, null]
    const fitting = new Set<Row>()
    const fits = (row: Row) =>
      (among?.(row) ?? true) &&
      holds(columns, row, words, currency, foundBy?.(row)) &&
      columns.every(c => !picked[c.id] || String(c.value(row) ?? '') === picked[c.id])
    // Below a row that fits all stands; of it, too, only what fits is counted and marked.
    const keeps = (row: Row): boolean => {
      const all = below?.(row) ?? []
      const some = all.filter(keeps)
      if (fits(row)) {
        fitting.add(row)
        return true
      }
      kept.set(row, some)
      return some.length > 0
    }
    return [rows.filter(keeps), kept, fitting]
  }, [rows, columns, below, wanted, picked, foundBy, among, currency])
  const filtered = fitting !== null
  const all = useMemo(() => {
    const sizeOf = (row: Row): number => (below?.(row) ?? []).reduce((sum, one) => sum + sizeOf(one), 1)
    return rows.reduce((sum, row) => sum + sizeOf(row), 0)
  }, [rows, below])

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
    state: { sorting, expanded: filtered && below ? true : expanded, rowSelection: marks, grouping },
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
  const shown = useMemo(() => {
    const byId = new Map(columns.map(c => [c.id, c]))
    return layout.order.filter(id => !layout.hidden.includes(id)).flatMap(id => byId.get(id) ?? [])
  }, [columns, layout])
  const shownRows = table.getRowModel().rows
  return {
    table,
    shownRows,
    marked: shownRows.filter(row => row.getIsSelected() && !row.getIsGrouped()),
    clearMarks: () => setMarks({}),
    /** whether a row is among what fits: the others only stand above what does */
    isFitting: (row: Row) => fitting?.has(row) ?? true,
    markAll: () => {
      const fit = shownRows.filter(row => !row.getIsGrouped() && (fitting?.has(row.original) ?? true))
      const every = fit.every(row => row.getIsSelected())
      setMarks(every ? {} : Object.fromEntries(fit.map(row => [row.id, true])))
    },
    /** the columns that are shown, in their order */
    shown,
    layout,
    setLayout: set,
    sharedAddress: shared,
    /** how many rows a filter has found, at every level; null where there is none */
    found: fitting?.size ?? null,
    /** how many rows there are at every level */
    all,
    filter,
    setFilter,
    picked,
    pick: (column: string, value: string) => setPicked({ ...picked, [column]: value }),
    groupedBy: grouping[0] ?? '',
    group: (by: string) => {
      setGrouping(by ? [by] : [])
      setExpanded(true)
    },
  }
}
export type TableState<Row> = ReturnType<typeof useTable<Row>>
