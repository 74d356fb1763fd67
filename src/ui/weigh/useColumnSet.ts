'use client'
import { useSearchParams } from 'next/navigation'
import { useEffect, useState } from 'react'
import { ALL_RESULTS } from '@/core/intake/judgedResult'
import { keptLayout } from '../parts/table/useLayout'
import { useJudgedResult } from '../shell/ResultWords'
import { useNoted } from '../shell/useScope'
import { type ColumnSet, isColumnSet, type OwnSet, readOwnSets } from './columnSets'

/** The columns that are looked at: a set that ships, or one of somebody's own. */
export function useColumnSet() {
  const usual: ColumnSet = useJudgedResult() === ALL_RESULTS ? 'all_results' : 'orders'
  const [asked, note] = useNoted('set', usual)
  const address = useSearchParams()
  const [own, setOwn] = useState<OwnSet[]>([])
  useEffect(() => setOwn(readOwnSets()), [])
  const mine = own.find(set => `own.${set.name}` === asked)
  const from: ColumnSet = mine && isColumnSet(mine.from) ? mine.from : isColumnSet(asked) ? asked : usual
  // Whoever opens the address of somebody's own columns finds them in it.
  const sent = address.has(`columns-weigh-${asked}`)
  const choose = (set: string) => {
    note(set)
    const columns = set.startsWith('own.') ? keptLayout(`weigh-${set}`) : ''
    if (!columns) return
    const here = new URL(window.location.href)
    here.searchParams.set(`columns-weigh-${set}`, columns)
    window.history.replaceState(null, '', here)
  }
  return { asked: mine || sent || isColumnSet(asked) ? asked : usual, choose, own, setOwn, mine, from }
}
export type ColumnSetChoice = ReturnType<typeof useColumnSet>
