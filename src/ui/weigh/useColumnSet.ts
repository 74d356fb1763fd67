'use client'
import { useEffect, useState } from 'react'
import { useNoted } from '../shell/useScope'
import { type ColumnSet, isColumnSet, type OwnSet, readOwnSets } from './columnSets'

/** The columns that are looked at: a set that ships, or one of somebody's own. */
export function useColumnSet() {
  const [asked, choose] = useNoted('set', 'orders')
  const [own, setOwn] = useState<OwnSet[]>([])
  useEffect(() => setOwn(readOwnSets()), [])
  const mine = own.find(set => `own.${set.name}` === asked)
  const from: ColumnSet = mine && isColumnSet(mine.from) ? mine.from : isColumnSet(asked) ? asked : 'orders'
  return { asked: mine || isColumnSet(asked) ? asked : 'orders', choose, own, setOwn, mine, from }
}
export type ColumnSetChoice = ReturnType<typeof useColumnSet>
