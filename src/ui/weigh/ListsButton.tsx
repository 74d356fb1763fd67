'use client'
import { Button } from '@chakra-ui/react'
import { listedKinds } from '@/core/weigh/lists'
import { segmentOfPart } from '@/core/weigh/segments'
import type { WeighView } from '@/server/compute/views/weigh'
import { useNetworkName } from '../shell/NetworkNames'
import { useScope } from '../shell/useScope'
import { segmentWords } from './segmentWords'

/** Downloads what to leave out and what to keep of a network's sources, placements or keywords, in its own columns. */
export function ListsButton({ view, network }: { view: WeighView; network: string | null }) {
  const networkName = useNetworkName()
  const { set } = useScope()
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
  return (
    <Button asChild>
      <a href={`/api/weigh/lists?${asked}`} download>
        What to leave out and keep at {networkName(network)}, by {segmentWords[kind]} (CSV)
      </a>
    </Button>
  )
}
