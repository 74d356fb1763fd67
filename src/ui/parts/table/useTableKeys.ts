import { type RefObject, useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { pasted } from './columns'
import { ROW_PX, type TableProps, type TableState } from './useTable'

/**
 * Moving about in a table, marking and copying by keys.
 *
 * @param scrollTo brings a row into sight by its number
 * @returns the row that one stands on, and what an element needs to hear the keys
 */
export function useTableKeys<Row>(
  { main = false, act, enter }: TableProps<Row>,
  { shownRows, shown, marked }: TableState<Row>,
  {
    currency,
    tools,
    scroller,
    filterField,
    scrollTo,
  }: {
    currency: string
    tools: boolean
    scroller: RefObject<HTMLElement | null>
    filterField: RefObject<HTMLElement | null>
    scrollTo: (row: number) => void
  },
) {
  const [here, setHere] = useState(main ? 0 : -1)
  const goTo = (index: number) => {
    const next = Math.max(0, Math.min(shownRows.length - 1, index))
    setHere(next)
    scrollTo(next)
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
    [here, shownRows, marked, page],
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
  return { here, setHere, hear: main ? null : own, copy }
}
