'use client'
import { Button } from '@chakra-ui/react'
import { useSearchParams } from 'next/navigation'
import type { reconcileParts } from '@/server/reconcileParts'

/** What a part of Reconcile shows as a file of JSON, with the settings that made it. */
export function AsJson({ of }: { of: keyof typeof reconcileParts }) {
  const address = useSearchParams().toString()
  return (
    <Button asChild>
      <a
        href={`/api/reconcile/${of}?${address}`}
        download={`reconcile-${of}.json`}
        title="All that is shown, with the settings that made it"
      >
        JSON
      </a>
    </Button>
  )
}
