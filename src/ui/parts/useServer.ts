'use client'
import useSWR, { type SWRConfiguration } from 'swr'

/** What the server said is wrong, in its own words where it has any. */
export async function answerOf<Answer>(address: string): Promise<Answer> {
  const answer = await fetch(address).catch(() => null)
  if (!answer) throw new Error('the application does not answer')
  const said = await answer.json().catch(() => null)
  if (!answer.ok) throw new Error(said?.error ?? `the server answered ${answer.status}`)
  return said
}

/** Nothing is asked for again unasked. */
export const once = { revalidateOnFocus: false, revalidateOnReconnect: false, shouldRetryOnError: false }

/**
 * What an address of the server says, fetched once for all who ask and kept while it is asked for again.
 *
 * @param address null for nothing yet
 */
export function useServer<Answer>(address: string | null, options: SWRConfiguration<Answer, Error> = {}) {
  const { data, error, isLoading, mutate } = useSWR<Answer, Error>(address, answerOf, {
    ...once,
    ...options,
  })
  return { answer: data, problem: error?.message ?? null, isLoading, again: () => mutate() }
}
