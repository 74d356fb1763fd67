import { type ReactNode, Suspense } from 'react'
import { Shell } from '@/ui/shell/Shell'
import { buildFrame, type Search } from './frame'
import { settingsActions } from './settings/settingsActions'

/** A screen in its frame: shell, period and scope. */
export async function Station({ search, children }: { search: Search; children: ReactNode }) {
  return (
    <Suspense>
      <Shell frame={await buildFrame(search)} settingsActions={settingsActions}>
        {children}
      </Shell>
    </Suspense>
  )
}
