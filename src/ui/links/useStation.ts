import { useDeferredValue, useEffect, useMemo, useSyncExternalStore } from 'react'
import { findingsOfNames } from '@/core/links/account'
import { stationServer } from './fetchStation'
import { ownParameters, surveyStation, unsurveyed } from './station'
import { createStationStore, emptyState } from './stationStore'

const store = createStationStore(stationServer)
const NOTHING_ARRIVED = {}

/** What was worked out last is not worked out again, by whichever screen asks. */
function rememberLast<Given extends readonly unknown[], Result>(work: (...given: Given) => Result) {
  let last: { given: Given; result: Result } | null = null
  return (...given: Given): Result => {
    if (!last || given.some((one, i) => one !== last?.given[i])) last = { given, result: work(...given) }
    return last.result
  }
}
const namesChecked = rememberLast(findingsOfNames)
const surveyed = rememberLast(surveyStation)

/** The station's ads and plans with the states and findings of all ads, and what can be done to them. */
export function useStation() {
  const state = useSyncExternalStore(store.subscribe, store.read, () => emptyState)
  useEffect(() => {
    if (!store.read().said.bad) store.say('')
    void store.load()
    const leave = () => void store.flush()
    window.addEventListener('pagehide', leave)
    const endWatch = store.watchArrivals()
    return () => {
      endWatch()
      window.removeEventListener('pagehide', leave)
      leave()
    }
  }, [])
  const { held, arrived } = state
  const own = useMemo(() => ownParameters(held?.plans ?? new Map()), [held?.plans])
  // Neither the first sight of the tree nor a letter that is typed waits for the survey of ten thousand ads.
  const settled = useDeferredValue(held)
  const told =
    settled &&
    surveyed(
      settled,
      namesChecked(settled.entities, settled.formerNames, settled.profiles),
      arrived ?? NOTHING_ARRIVED,
    )
  const first = useMemo(() => (held && !told ? unsurveyed(held) : null), [held, told])
  return { ...store, ...state, station: told ?? first, own }
}
export type Station = ReturnType<typeof useStation>
