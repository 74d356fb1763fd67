import { Box, Button, VisuallyHidden } from '@chakra-ui/react'
import { meaningOf } from '../../help/words'
import { type Column, headingOf } from './columns'
import type { TableState } from './useTable'

/** How a column's cells look, which the theme says. */
export const lookOf = <Row,>(column: Column<Row>) => ({
  ...(column.words ? { 'data-words': '' } : {}),
  ...(column.wraps ? { 'data-wraps': '' } : {}),
})

/** The headings, by which a table is sorted and its columns are made wider. */
export function TableHead<Row>({ state, sized }: { state: TableState<Row>; sized: boolean }) {
  const { table, shown, layout, setLayout } = state
  return shown.map(column => {
    const of = table.getColumn(column.id)!
    const way = of.getIsSorted()
    return (
      <th
        key={column.id}
        scope="col"
        {...lookOf(column)}
        aria-sort={way === 'asc' ? 'ascending' : way === 'desc' ? 'descending' : 'none'}
        style={{ width: layout.widths[column.id] ?? column.width }}
      >
        {column.heading === '' ? (
          <VisuallyHidden>what can be done</VisuallyHidden>
        ) : (
          <Button
            variant="ghost"
            title={[column.hint ?? meaningOf(headingOf(column)), 'Sorts by it; with Shift, by it as well.']
              .filter(Boolean)
              .join(' ')}
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
        {sized && (
          <WidthGrip
            of={headingOf(column)}
            drag={width => setLayout({ ...layout, widths: { ...layout.widths, [column.id]: width } })}
          />
        )}
      </th>
    )
  })
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
