'use client'
import { useEffect, useState } from 'react'

const PAUSE_MS = 250

/**
 * What something that is being edited would do, asked for once nothing was changed for a moment.
 *
 * @param wanted plain data; null for what cannot be asked about
 * @param ask a function that stays the same
 * @returns the last answer; null before there is one
 */
export function usePreview<Wanted, Answer>(
  wanted: Wanted | null,
  ask: (wanted: Wanted) => Promise<Answer | null>,
): Answer | null {
  const [answer, setAnswer] = useState<Answer | null>(null)
  const text = wanted === null ? null : JSON.stringify(wanted)
  useEffect(() => {
    if (text === null) return
    let current = true
    const timer = setTimeout(
      () =>
        void ask(JSON.parse(text)).then(
          found => current && setAnswer(found),
          () => {},
        ),
      PAUSE_MS,
    )
    return () => {
      current = false
      clearTimeout(timer)
    }
  }, [text, ask])
  return answer
}
