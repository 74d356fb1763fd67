'use client'
import { createContext, use, useCallback } from 'react'
import { JUDGED_RESULT } from '@/core/intake/judgedResult'
import type { Frame } from './frame'

/** The ID of the result that the screen is about, and all that there are. */
export const ResultContext = createContext<Pick<Frame, 'result' | 'results'>>({
  result: JUDGED_RESULT,
  results: [],
})

export const useJudgedResult = (): string => use(ResultContext).result

/** What a result is called: its name, or its ID where nobody named it. */
export function useResultName(): (id: string) => string {
  const { results } = use(ResultContext)
  return useCallback(id => results.find(one => one.id === id)?.name ?? id, [results])
}

/** Puts what is said of orders in words for the result that is judged: what is no order is called a result. */
export function useResultWords(): (text: string) => string {
  const { result } = use(ResultContext)
  return useCallback(
    text => (result === JUDGED_RESULT ? text : text.replace(/\b(an order|order)(s?)\b/gi, resultFor)),
    [result],
  )
}

const resultFor = (_: string, noun: string, many: string) => {
  const word = noun.toLowerCase().startsWith('an') ? 'a result' : 'result'
  return `${noun[0] === noun[0]?.toUpperCase() ? word[0]!.toUpperCase() + word.slice(1) : word}${many}`
}
