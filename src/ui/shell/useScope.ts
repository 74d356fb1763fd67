'use client'
import { usePathname, useRouter, useSearchParams } from 'next/navigation'
import { useTransition } from 'react'

/** What of the address goes along from station to station. */
const KEPT = ['from', 'to', 'network'] as const

export function keptQuery(address: URLSearchParams): string {
  const kept = new URLSearchParams()
  for (const key of KEPT) {
    const value = address.get(key)
    if (value) kept.set(key, value)
  }
  const query = kept.toString()
  return query ? `?${query}` : ''
}

/** Reads and changes the period and scope, which live in the address. */
export function useScope() {
  const router = useRouter()
  const path = usePathname()
  const address = useSearchParams()
  const [changing, change] = useTransition()
  /** Changes the address; a value of null or '' leaves its key out. */
  const set = (values: Record<string, string | null>) => {
    const next = new URLSearchParams(address)
    for (const [key, value] of Object.entries(values)) {
      if (value) next.set(key, value)
      else next.delete(key)
    }
    change(() => router.replace(`${path}?${next}`, { scroll: false }))
  }
  return { set, changing }
}
