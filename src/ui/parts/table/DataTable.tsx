'use client'
import { Box, Button, Flex, Table, Text } from '@chakra-ui/react'
import type { Row as TableRow } from '@tanstack/react-table'
import { useVirtualizer } from '@tanstack/react-virtual'
import { ChevronDown, ChevronRight } from 'lucide-react'
import { Fragment, memo, type ReactNode, useRef } from 'react'
import { type Formats, useFormats } from '../../format'
import { MarkBox } from '../Plain'
import { type Column, written } from './columns'
import { TableBar } from './TableBar'
import { lookOf, TableHead } from './TableHead'
import { ROW_PX, type TableProps, useTable } from './useTable'
import { useTableKeys } from './useTableKeys'

/** Shorter tables are shown whole, so that the browser's own search finds what is in them. */
const LONG = 120

/**
 * A table: sorted, filtered, copied and moved about in like every other. Its cells are plain elements, of which
 * those in sight are made; what they look like is said in the theme.
 */
export function DataTable<Row>(props: TableProps<Row>) {
  const { label, rows, name, below, detail, act, total, main = false, height } = props
  const formats = useFormats()
  const { count, currency } = formats
  const tools = props.tools ?? rows.length > 12
  const state = useTable(props, currency)
  const { shownRows, shown, layout, marked } = state
  const scroller = useRef<HTMLDivElement>(null)
  const filterField = useRef<HTMLInputElement>(null)
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
  const keys = useTableKeys(props, state, {
    currency,
    tools,
    scroller,
    filterField,
    scrollTo: row => {
      if (long) virtual.scrollToIndex(row)
      else scroller.current?.querySelector(`[data-row="${row}"]`)?.scrollIntoView({ block: 'nearest' })
    },
  })
  const opens = below !== undefined
  const span = shown.length + (act ? 1 : 0)
  return (
    <Box minHeight="0" display="flex" flexDirection="column" height={height}>
      {(tools || props.bar) && <TableBar of={props} state={state} tools={tools} filterField={filterField} />}
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
            state.clearMarks,
          )}
        </Flex>
      )}
      <Box
        ref={(node: HTMLDivElement | null) => {
          scroller.current = node
          keys.hear?.(node)
        }}
        flex={height ? '1' : undefined}
        minHeight={height ? '200px' : '0'}
        overflow="auto"
        tabIndex={0}
        role="region"
        aria-label={label}
        onKeyDown={event => !main && event.key === 'c' && (event.ctrlKey || event.metaKey) && keys.copy()}
      >
        <Table.Root
          aria-label={label}
          aria-rowcount={shownRows.length + (total ? 2 : 1)}
          width={height ? '100%' : 'auto'}
          minWidth="40%"
        >
          <Box as="thead" position="sticky" top="0" zIndex="2">
            <tr>
              {act && (
                <th aria-label="Marks">
                  <MarkBox
                    name="all that are shown"
                    marks={
                      marked.length === 0
                        ? 'none'
                        : shownRows.every(row => row.getIsSelected() || !state.isFitting(row.original))
                          ? 'all'
                          : 'some'
                    }
                    mark={state.markAll}
                  />
                </th>
              )}
              <TableHead state={state} sized={name !== undefined} />
            </tr>
            {total && (
              <tr data-total="">
                {act && <td />}
                <Cells row={total} shown={shown} widths={layout.widths} formats={formats} depth={0}>
                  {opens && <Box width="14px" />}
                </Cells>
              </tr>
            )}
          </Box>
          <tbody>
            {before > 0 && <tr style={{ height: before }} aria-hidden />}
            {drawn.map((row, at) => {
              const index = long ? inSight[at]!.index : at
              const isHere = index === keys.here || (props.chosen !== undefined && props.chosen === row.id)
              return (
                <Fragment key={row.id}>
                  <BodyRow
                    row={row as TableRow<unknown>}
                    index={index}
                    shown={shown as readonly Column<unknown>[]}
                    widths={layout.widths}
                    formats={formats}
                    long={long}
                    isHere={isHere}
                    selected={row.getIsSelected()}
                    expanded={row.getIsExpanded()}
                    strong={row.getIsGrouped() || props.strong?.(row.original) === true}
                    quiet={props.quiet?.(row.original) === true}
                    marks={act !== undefined}
                    opens={opens}
                    details={detail !== undefined}
                    above={total ? 3 : 2}
                    setHere={keys.setHere}
                  />
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
                  {props.still
                    ? props.still
                    : state.found !== null
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

const nameOf = (row: TableRow<unknown>, shown: readonly Column<unknown>[]) =>
  String((row.getIsGrouped() ? row.groupingValue : shown[0]?.value(row.original)) ?? 'it')

/** What opens and closes what is below a row. */
const Expander = ({ row, name }: { row: TableRow<unknown>; name: string }) =>
  row.subRows.length > 0 ? (
    <Button
      variant="ghost"
      aria-expanded={row.getIsExpanded()}
      aria-label={`${row.getIsExpanded() ? 'Hide' : 'Show'} what is below ${name}`}
      onClick={row.getToggleExpandedHandler()}
    >
      {row.getIsExpanded() ? <ChevronDown size={14} /> : <ChevronRight size={14} />}
    </Button>
  ) : (
    <Box as="span" width="14px" flexShrink={0} />
  )

/** One line of the table. It is drawn again only where something of it has changed: others may be by the dozen. */
const BodyRow = memo(function BodyRow({
  row,
  index,
  shown,
  widths,
  formats,
  long,
  isHere,
  selected,
  expanded,
  strong,
  quiet,
  marks,
  opens,
  details,
  above,
  setHere,
}: {
  row: TableRow<unknown>
  index: number
  shown: readonly Column<unknown>[]
  widths: Readonly<Record<string, number>>
  formats: Formats
  long: boolean
  isHere: boolean
  selected: boolean
  expanded: boolean
  strong: boolean
  quiet: boolean
  marks: boolean
  opens: boolean
  /** whether the row opens to what it shows across the table */
  details: boolean
  /** lines above the first of these */
  above: number
  setHere: (index: number) => void
}) {
  const name = nameOf(row, shown)
  return (
    <tr
      data-long={long ? '' : undefined}
      data-row={index}
      data-here={isHere ? '' : undefined}
      aria-rowindex={index + above}
      aria-selected={isHere}
      data-strong={strong ? '' : undefined}
      data-quiet={quiet ? '' : undefined}
      onClick={() => setHere(index)}
    >
      {marks && (
        <td>
          <MarkBox name={name} marks={selected ? 'all' : 'none'} mark={() => row.toggleSelected()} />
        </td>
      )}
      {row.getIsGrouped() ? (
        <th colSpan={shown.length} scope="rowgroup" data-words="">
          <Flex gap="1">
            <Expander row={row} name={name} /> {name}
            <Text as="span" color="quiet">
              {formats.count(row.subRows.length)}
            </Text>
          </Flex>
        </th>
      ) : (
        <Cells
          row={row.original}
          shown={shown}
          widths={widths}
          formats={formats}
          depth={row.depth}
          {...(details && { within: row, expanded })}
        >
          {opens && <Expander row={row} name={name} />}
        </Cells>
      )}
    </tr>
  )
})

/** The cells of a line, the first of which names it. */
function Cells<Row>({
  row,
  shown,
  widths,
  formats,
  depth,
  within,
  expanded = false,
  children,
}: {
  row: Row
  shown: readonly Column<Row>[]
  widths: Readonly<Record<string, number>>
  formats: Formats
  depth: number
  /** the line that opens to what it shows across the table, by pressing its name */
  within?: TableRow<Row>
  expanded?: boolean
  /** what stands before its name */
  children: ReactNode
}) {
  return shown.map((column, i) => {
    const content = written(column, row, formats)
    const width = widths[column.id]
    const style = width ? { maxWidth: width, overflow: 'hidden', textOverflow: 'ellipsis' } : undefined
    return i === 0 ? (
      <th
        key={column.id}
        scope="row"
        {...lookOf(column)}
        data-first
        style={{ ...style, paddingLeft: 8 + depth * 16 }}
      >
        <Flex gap="1" align="start">
          {children}
          <Box minWidth="0" flex="1">
            {within ? (
              <Button variant="plain" aria-expanded={expanded} onClick={within.getToggleExpandedHandler()}>
                {content}
              </Button>
            ) : (
              content
            )}
          </Box>
        </Flex>
      </th>
    ) : (
      <td
        key={column.id}
        {...lookOf(column)}
        style={style}
        title={column.none && column.value(row) === null ? column.none(row) : undefined}
      >
        {content}
      </td>
    )
  })
}
