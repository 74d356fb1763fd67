'use client'
import { createContext, use, useCallback } from 'react'
import { JUDGED_RESULT } from '@/core/intake/judgedResult'

/** The ID of the result that the screen is about. */
export const ResultContext = createContext<string>(JUDGED_RESULT)

/** Puts what is said of orders in words for the result that is judged: what is no order is called a result. */
export function useResultWords(): (text: string) => string {
  const result = use(ResultContext)
  return useCallback(
    text => (result === JUDGED_RESULT ? text : text.replace(/\b(an order|order)(s?)\b/gi, resultFor)),
    [result],
  )
}

const resultFor = (_: string, noun: string, many: string) => {
  const word = noun.toLowerCase().startsWith('an') ? 'a result' : 'result'
  return `${noun[0] === noun[0]?.toUpperCase() ? word[0]!.toUpperCase() + word.slice(1) : word}${many}`
}
