'use client'
import { Box, Progress, Text, VisuallyHidden } from '@chakra-ui/react'
import { useRouter } from 'next/navigation'
import { useEffect, useState } from 'react'
import type { ViewOfPage } from '@/server/compute/namesOfViews'
import type { Stage } from '@/server/compute/worker'

const words: Record<Stage, string> = {
  reading: 'Reading orders, claims, and the clicks that they name …',
  gathering: 'Finding the click behind each order, and the order behind each claim …',
  computing: 'Weighing what nobody saw, and what one result cost …',
}
const stages = Object.keys(words) as Stage[]
const AGAIN_MS = 300
/** A page that did not come is asked for once more. */
const REFRESH_MS = 5000

/** What stands where a page will be whose evidence is gathered for the first time: how far that has come. */
export function Gathering({ view, result }: { view: ViewOfPage; result: string }) {
  const router = useRouter()
  const [stage, setStage] = useState<Stage>('reading')
  useEffect(() => {
    const asked = new AbortController()
    let again: ReturnType<typeof setTimeout> | undefined
    const ask = async () => {
      const address = `/api/opening?${new URLSearchParams({ view, result })}`
      const answer = await fetch(address, { signal: asked.signal }).catch(() => null)
      if (asked.signal.aborted) return
      const { stage } = answer?.ok
        ? ((await answer.json()) as { stage: Stage | 'open' | null })
        : { stage: null }
      // Whether it is there or went wrong, the page says which.
      const ended = stage === 'open' || stage === null
      if (ended) router.refresh()
      else setStage(stage)
      again = setTimeout(ask, ended ? REFRESH_MS : AGAIN_MS)
    }
    void ask()
    return () => {
      asked.abort()
      clearTimeout(again)
    }
  }, [router, view, result])
  return (
    <Box px="5" py="10" maxWidth="44rem" aria-busy="true">
      <Box role="status" mb="4">
        <Text as="h1" fontSize="19px">
          {words[stage]}
        </Text>
      </Box>
      <Progress.Root value={stages.indexOf(stage) + 1} max={stages.length + 1} size="xs" mb="3">
        <VisuallyHidden asChild>
          <Progress.Label>How far it is</Progress.Label>
        </VisuallyHidden>
        <Progress.Track bg="rule" borderRadius="0">
          <Progress.Range bg="ink" />
        </Progress.Track>
      </Progress.Root>
      <Text color="quiet">
        This is done once after a start; what comes in later is added to it. Other stations can be used
        meanwhile.
      </Text>
    </Box>
  )
}
