import { useEffect, useState } from 'react'
import type { ArrivalFilter } from '@/core/intake/arrivalFilter'
import type { Arrival, Minutes } from '@/server/arrivals/latest'

interface Known {
  arrivals: Arrival[]
  minutes: Minutes
}

/** The latest arrivals of a filter, renewed whenever the server says that something came. */
export function useArrivals(first: Known & { version: number }, filter: ArrivalFilter, paused: boolean) {
  const [known, setKnown] = useState<Known>(first)
  const [lost, setLost] = useState(false)
  const { version } = first
  const narrowed = Object.entries(filter).flatMap(([key, value]) => (value === null ? [] : [[key, value]]))
  const wanted = new URLSearchParams(narrowed).toString()

  useEffect(() => {
    let seen = version
    let ended = false
    let looking = false
    let again = false
    /** One look at a time: many arrivals in a second are one renewal. */
    const look = async (): Promise<void> => {
      again = looking
      if (looking) return
      looking = true
      try {
        const answer = await fetch(`/api/arrivals?version=${seen}&${wanted}`)
        const body: { version: number; arrivals: Arrival[] | null; minutes: Minutes } = await answer.json()
        if (ended) return
        seen = body.version
        if (body.arrivals) setKnown({ arrivals: body.arrivals, minutes: body.minutes })
        setLost(false)
      } catch {
        if (!ended) setLost(true)
      }
      looking = false
      if (again && !ended) await look()
    }
    if (paused) return
    const told = new EventSource('/api/arrivals/stream')
    told.onmessage = () => void look()
    told.onerror = () => !ended && setLost(true)
    return () => {
      ended = true
      told.close()
    }
  }, [version, wanted, paused])

  return { ...known, lost }
}
