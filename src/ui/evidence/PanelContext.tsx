'use client'
import { createContext, type ReactNode, use, useCallback, useMemo, useState } from 'react'
import type { Figure } from '@/core/weigh/openings'
import type { Scope } from '@/core/weigh/scope'
import { PlainButton } from '../parts/Plain'

/** A figure whose evidence is asked for. */
export interface Opened {
  figure: Figure
  scope: Scope
  /** what the figure is of: a campaign, the whole account */
  of: string
  /** the figure as it was shown */
  shown: string
  /** one day of the period, `YYYY-MM-DD` */
  day?: string | undefined
  /** that it is shown by what it is worth, not by how many */
  worth?: boolean | undefined
  /** that days are left out of which its network has not told yet what it spent */
  billed?: boolean | undefined
}

const PanelContext = createContext<{ opened: Opened | null; open: (figure: Opened | null) => void }>({
  opened: null,
  open: () => {},
})

export function PanelProvider({ children }: { children: ReactNode }) {
  const [opened, setOpened] = useState<Opened | null>(null)
  const open = useCallback((figure: Opened | null) => setOpened(figure), [])
  const value = useMemo(() => ({ opened, open }), [opened, open])
  return <PanelContext value={value}>{children}</PanelContext>
}
export const usePanel = () => use(PanelContext)

/** A figure that opens its evidence. It looks like the text around it, and is a button. */
export function FigureLink({ figure, scope, of, shown, day, worth, billed }: Opened) {
  const { open, opened } = usePanel()
  const own: Opened = { figure, scope, of, shown, day, worth, billed }
  const current = opened !== null && JSON.stringify(opened) === JSON.stringify(own)
  return (
    <PlainButton
      className="figure"
      aria-label={`${shown}: show the evidence`}
      aria-expanded={current}
      onClick={() => open(current ? null : own)}
    >
      {shown}
    </PlainButton>
  )
}
