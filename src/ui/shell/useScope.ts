'use client'
import { usePathname, useRouter, useSearchParams } from 'next/navigation'
import { useEffect, useTransition } from 'react'

/** What of the address goes along from station to station. */
const KEPT = ['from', 'to', 'network', 'result', 'beside'] as const

export function keptQuery(address: URLSearchParams): string {
  const kept = new URLSearchParams()
  for (const key of KEPT) {
    const value = address.get(key)
    if (value) kept.set(key, value)
  }
  const query = kept.toString()
  return query ? `?${query}` : ''
}

/** The address last asked for, while the one before still stands: two quick changes must not lose the first. */
let asked: { from: string; to: string } | null = null

/** Reads and changes the period and scope, which live in the address. */
export function useScope() {
  const router = useRouter()
  const path = usePathname()
  const address = useSearchParams()
  const [changing, change] = useTransition()
  useEffect(() => {
    if (asked?.from !== address.toString()) asked = null
  }, [address])
  /** Changes the address; a value of null or '' leaves its key out. */
  const set = (values: Record<string, string | null>) => {
    const next = new URLSearchParams(asked?.from === address.toString() ? asked.to : address)
    for (const [key, value] of Object.entries(values)) {
      if (value) next.set(key, value)
      else next.delete(key)
    }
    asked = { from: address.toString(), to: next.toString() }
    change(() => router.replace(`${path}?${next}`, { scroll: false }))
  }
  return { set, changing }
}

/**
 * Something that is chosen on one screen and stands in its address, of which the server knows nothing: the page is not
 * asked for again. Back returns to what was chosen before.
 */
export function useNoted(key: string, usual: string): [value: string, choose: (value: string) => void] {
  const address = useSearchParams()
  const choose = (value: string) => {
    const here = new URL(window.location.href)
    if (value === usual) here.searchParams.delete(key)
    else here.searchParams.set(key, value)
    if (here.href !== window.location.href) window.history.pushState(null, '', here)
  }
  return [address.get(key) ?? usual, choose]
}

/** Something that is chosen on one screen and stands in its address. */
export function useAddressed(key: string, usual: string): [value: string, choose: (value: string) => void] {
  const address = useSearchParams()
  const { set } = useScope()
  return [address.get(key) ?? usual, value => set({ [key]: value === usual ? null : value })]
}
