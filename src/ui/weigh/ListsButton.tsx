'use client'
import { Button, Text } from '@chakra-ui/react'
import { useSearchParams } from 'next/navigation'
import { listedKinds, listedSegments } from '@/core/weigh/lists'
import { segmentOfPart } from '@/core/weigh/segments'
import type { WeighView } from '@/server/compute/views/weigh'
import { useNetworkName } from '../shell/NetworkNames'
import { useScope } from '../shell/useScope'
import { segmentWords } from './segmentWords'

/** Why no list can be made. */
function emptyReason({ byPart }: WeighView, what: string): string {
  const named = (byPart ?? []).filter(row => row.level === 'part' && row.id !== '')
  if (named.length === 0) return `No list: no click and no report names a ${what}.`
  return named.every(row => row.sums.spend === 0)
    ? `No list: reports do not split spend by ${what}. Share spend by clicks to judge them.`
    : `No list yet: no ${what} is clearly to be cut or raised.`
}

/** Downloads what to leave out and what to keep of a network's sources, placements or keywords, in its own columns. */
export function ListsButton({ view, network }: { view: WeighView; network: string | null }) {
  const networkName = useNetworkName()
  const { set } = useScope()
  const address = useSearchParams()
  const kind = listedKinds.find(one => one === segmentOfPart(view.by ?? undefined))
  if (!kind) return null
  if (network === null)
    return (
      <Button
        title="Lists are for one network"
        onClick={() => set({ network: view.campaigns[0]?.network ?? null })}
      >
        Choose a network for its lists
      </Button>
    )
  const asked = new URLSearchParams({ network, kind, from: view.period.from, to: view.period.to })
  for (const key of ['result', 'spend']) {
    const value = address.get(key)
    if (value) asked.set(key, value)
  }
  if (listedSegments(view.byPart ?? [], network).length === 0)
    return (
      <Text as="span" color="quiet">
        {emptyReason(view, segmentWords[kind])}
      </Text>
    )
  return (
    <Button asChild>
      <a href={`/api/weigh/lists?${asked}`} download>
        What to leave out and keep at {networkName(network)}, by {segmentWords[kind]} (CSV)
      </a>
    </Button>
  )
}
