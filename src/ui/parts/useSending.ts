'use client'
import { useTransition } from 'react'
import { failed } from './undo'

/**
 * Sends something to the server and says where that fails, which would take the whole screen away if it were thrown on.
 *
 * @returns whether something is on its way, and what sends
 */
export function useSending(): [busy: boolean, send: (work: () => unknown) => void] {
  const [busy, start] = useTransition()
  const send = (work: () => unknown) =>
    start(async () => {
      try {
        await work()
      } catch {
        failed()
      }
    })
  return [busy, send]
}
