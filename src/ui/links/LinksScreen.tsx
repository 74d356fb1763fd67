'use client'
import { Flex, Text } from '@chakra-ui/react'
import { useRouter, useSearchParams } from 'next/navigation'
import type { DescribedLink } from '@/server/links'
import { AdTree, type TreeAd } from './AdTree'
import { type LinkActions, LinkEditor } from './LinkEditor'

/** Links: the campaign tree and the chosen ad's link. */
export function LinksScreen({
  ads,
  described,
  chosen,
  actions,
}: {
  ads: TreeAd[]
  described: DescribedLink | null
  chosen: string | null
  actions: LinkActions
}) {
  const router = useRouter()
  const address = useSearchParams()
  const choose = (ad: TreeAd) => {
    const next = new URLSearchParams(address)
    next.set('ad', `${ad.network}/${ad.id}`)
    router.replace(`/links?${next}`, { scroll: false })
  }
  return (
    <Flex height="100%">
      <AdTree ads={ads} chosen={chosen} choose={choose} />
      {described ? (
        <LinkEditor key={chosen} described={described} actions={actions} />
      ) : (
        <Text p="5" color="quiet">
          Pick an ad on the left to see its link.
        </Text>
      )}
    </Flex>
  )
}
