'use client'
import dynamic from 'next/dynamic'
import { useHotkeys } from 'react-hotkeys-hook'
import { usePanel } from './PanelContext'

const FigurePanel = dynamic(() => import('./FigurePanel').then(m => m.FigurePanel), { ssr: false })

/** What stands behind a figure that was opened: the same panel everywhere, in the same place. */
export function EvidencePanel() {
  const { opened, open } = usePanel()
  useHotkeys('escape', () => open(null), { enabled: opened !== null })
  return opened ? <FigurePanel key={JSON.stringify(opened)} opened={opened} close={() => open(null)} /> : null
}
