'use client'
import useSWRInfinite from 'swr/infinite'
import { answerOf, once } from './useServer'

/**
 * What a server says in pages, fetched one after another as they are asked for.
 *
 * @param addressOf the address of a page, from nought
 */
export function useServerPages<Page>(addressOf: (page: number) => string) {
  const { data, error, setSize } = useSWRInfinite<Page, Error>(addressOf, answerOf, {
    ...once,
    revalidateFirstPage: false,
  })
  return { pages: data ?? [], problem: error?.message ?? null, more: () => void setSize(n => n + 1) }
}
