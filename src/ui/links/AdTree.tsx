'use client'
import { Box, Flex, Text } from '@chakra-ui/react'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useDeferredValue, useMemo, useRef, useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'

export interface TreeAd {
  network: string
  id: string
  name: string
  campaignId: string
  campaign: string
  adSetId: string
  adSet: string
}

type Line =
  | { kind: 'network' | 'campaign' | 'ad_set'; key: string; text: string }
  | { kind: 'ad'; key: string; text: string; ad: TreeAd }
const depth = { network: 0, campaign: 8, ad_set: 20, ad: 32 }

/** Networks, campaigns, ad sets and ads as one list of lines; each heading once. */
function linesOf(ads: readonly TreeAd[], filter: string): Line[] {
  const wanted = filter.trim().toLowerCase()
  const lines: Line[] = []
  let last = { network: '', campaign: '', adSet: '' }
  for (const ad of ads) {
    if (
      wanted &&
      !`${ad.name} ${ad.id} ${ad.campaign} ${ad.adSet} ${ad.network}`.toLowerCase().includes(wanted)
    )
      continue
    const campaign = `${ad.network}/${ad.campaignId}`
    const adSet = `${campaign}/${ad.adSetId}`
    if (ad.network !== last.network) lines.push({ kind: 'network', key: ad.network, text: ad.network })
    if (campaign !== last.campaign) lines.push({ kind: 'campaign', key: campaign, text: ad.campaign })
    if (adSet !== last.adSet) lines.push({ kind: 'ad_set', key: adSet, text: ad.adSet })
    lines.push({ kind: 'ad', key: `${ad.network}/${ad.id}`, text: ad.name, ad })
    last = { network: ad.network, campaign, adSet }
  }
  return lines
}

/** The campaign tree; choosing an ad shows its link. */
export function AdTree({
  ads,
  chosen,
  choose,
}: {
  ads: readonly TreeAd[]
  chosen: string | null
  choose: (ad: TreeAd) => void
}) {
  const [filter, setFilter] = useState('')
  const wanted = useDeferredValue(filter)
  const lines = useMemo(() => linesOf(ads, wanted), [ads, wanted])
  const scroller = useRef<HTMLDivElement>(null)
  const filterField = useRef<HTMLInputElement>(null)
  const virtual = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => 26,
    overscan: 20,
  })
  const step = (by: number) => {
    const adLines = lines.flatMap((line, index) => (line.kind === 'ad' ? [{ line, index }] : []))
    const at = adLines.findIndex(l => l.line.key === chosen)
    const next = adLines[Math.max(0, Math.min(adLines.length - 1, at + by))]
    if (next?.line.kind !== 'ad') return
    virtual.scrollToIndex(next.index)
    choose(next.line.ad)
  }
  useHotkeys('j', () => step(1), [lines, chosen])
  useHotkeys('k', () => step(-1), [lines, chosen])
  useHotkeys('slash', event => {
    event.preventDefault()
    filterField.current?.focus()
  })
  return (
    <Flex
      direction="column"
      width="270px"
      flexShrink={0}
      borderRightWidth="1px"
      borderColor="hairline"
      height="100%"
    >
      <Box p="3">
        <input
          ref={filterField}
          className="field"
          style={{ width: '100%' }}
          aria-label="Filter ads"
          placeholder="Filter ads  /"
          value={filter}
          onChange={e => setFilter(e.target.value)}
        />
      </Box>
      <Box
        ref={scroller}
        flex="1"
        overflowY="auto"
        role="region"
        aria-label="Campaigns, ad sets and ads"
        tabIndex={0}
      >
        {lines.length === 0 && (
          <Text px="4" color="quiet" fontSize="13px">
            No ad by that name.
          </Text>
        )}
        <Box height={`${virtual.getTotalSize()}px`} position="relative">
          {virtual.getVirtualItems().map(item => {
            const line = lines[item.index]!
            const common = {
              position: 'absolute',
              top: 0,
              left: 0,
              right: 0,
              height: '26px',
              transform: `translateY(${item.start}px)`,
              pl: `${14 + depth[line.kind]}px`,
              pr: 3,
              fontSize: '13px',
              textAlign: 'left',
              truncate: true,
            } as const
            return line.kind === 'ad' ? (
              <Box
                as="button"
                key={line.key}
                {...common}
                width="100%"
                cursor="pointer"
                aria-current={line.key === chosen}
                bg={line.key === chosen ? 'mark' : undefined}
                fontWeight={line.key === chosen ? 650 : 400}
                _hover={{ bg: 'mark' }}
                onClick={() => choose(line.ad)}
                title={line.text}
              >
                {line.text}
              </Box>
            ) : (
              <Text
                key={line.key}
                {...common}
                pt="4px"
                color={line.kind === 'ad_set' ? 'quiet' : undefined}
                fontWeight={line.kind === 'ad_set' ? 400 : 650}
                title={line.text}
              >
                {line.text}
              </Text>
            )
          })}
        </Box>
      </Box>
    </Flex>
  )
}
