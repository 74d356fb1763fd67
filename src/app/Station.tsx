import { type ReactNode, Suspense } from 'react'
import { Shell } from '@/ui/shell/Shell'
import { keepSettings } from './actions'
import { buildFrame, type Search } from './frame'

/** A screen in its frame: shell, period and scope. */
export async function Station({ search, children }: { search: Search; children: ReactNode }) {
  return (
    <Suspense>
      <Shell frame={await buildFrame(search)} keepSettings={keepSettings}>
        {children}
      </Shell>
    </Suspense>
  )
}
