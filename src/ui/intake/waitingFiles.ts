'use client'
import { useEffect, useSyncExternalStore } from 'react'
import type { FileKind } from '@/core/intake/records'

/** Where a file belongs: an exchange file, the shop's, a network's report (of which one, where that is known). */
export type Destination =
  | { to: 'import'; kind: FileKind | null }
  | { to: 'shop' }
  | { to: 'report'; network: string | null }

export interface WaitingFile {
  file: File
  place: Destination
}

const changes = new EventTarget()
let waiting: readonly WaitingFile[] = []
/** whether the first of them is to be looked at whatever a screen shows */
let atOnce = false
const set = (next: readonly WaitingFile[]) => {
  waiting = next
  changes.dispatchEvent(new Event('change'))
}

/** Files on their way to the screens that take them, one after the other; the first at once where somebody sent it. */
export function wait(files: readonly WaitingFile[], sent = false): void {
  atOnce ||= sent
  set(sent ? [...files, ...waiting] : [...waiting, ...files])
}
export const dropWaiting = (): void => set([])

export const screenOf: Record<Destination['to'], string> = {
  import: '/intake/import',
  shop: '/intake/shop',
  report: '/intake/reports',
}

const none: readonly WaitingFile[] = []
export const useWaiting = (): readonly WaitingFile[] =>
  useSyncExternalStore(
    tell => {
      changes.addEventListener('change', tell)
      return () => changes.removeEventListener('change', tell)
    },
    () => waiting,
    () => none,
  )

/**
 * Takes the files that have come for a screen: all at once, or the next of them once the screen is free.
 *
 * @param take a function of the screen as it is drawn
 */
export function useComing(to: Destination['to'], free: boolean, take: (coming: WaitingFile) => void) {
  const next = useWaiting()[0]
  const mine = (free || atOnce) && next?.place.to === to ? next : null
  useEffect(() => {
    if (!mine) return
    atOnce = false
    set(waiting.filter(one => one !== mine))
    take(mine)
    // The function is that of the drawing in which the file had come.
  }, [mine])
}
