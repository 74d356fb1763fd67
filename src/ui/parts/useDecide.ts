'use client'
import { useRouter } from 'next/navigation'
import { useState } from 'react'
import type { Decision } from '@/core/intake/decisions'

/** Settles something by hand, or takes it back, and shows the page as it is then; gives what went wrong, in words. */
export function useDecide() {
  const router = useRouter()
  const [problem, setProblem] = useState<string | null>(null)
  const [busy, setBusy] = useState(false)
  const send = async (path: string, method: string, body?: object): Promise<Decision | true | null> => {
    setBusy(true)
    try {
      const response = await fetch(path, {
        method,
        headers: { 'x-aequant': '1', ...(body && { 'content-type': 'application/json' }) },
        ...(body && { body: JSON.stringify(body) }),
      })
      const answer = await response.json().catch(() => null)
      setProblem(response.ok ? null : (answer?.error ?? `It could not be kept: ${response.status}.`))
      if (!response.ok) return null
      router.refresh()
      return answer ?? true
    } catch (error) {
      setProblem(`It could not be kept: ${error instanceof Error ? error.message : error}`)
      return null
    } finally {
      setBusy(false)
    }
  }
  return {
    problem,
    busy,
    decide: (decided: object) => send('/api/decisions', 'POST', decided),
    undo: (id: string) => send(`/api/decisions/${id}`, 'DELETE'),
  }
}
