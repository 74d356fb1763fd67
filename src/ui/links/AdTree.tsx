'use client'
import { Box, Button, Flex, Input, Text } from '@chakra-ui/react'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useEffect, useMemo, useRef, useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import type { NetworkProfile } from '@/core/links/profile'
import { useFormats } from '../format'
import { MarkBox } from '../parts/Plain'
import type { StationAd } from './station'
import { type Marks, TreeRow } from './TreeRow'
import { adKey, campaignKey, linesOf } from './treeLines'

const toggled = (known: ReadonlySet<string>, key: string): ReadonlySet<string> => {
  const next = new Set(known)
  if (!next.delete(key)) next.add(key)
  return next
}

/** The campaign tree; choosing an ad shows its link, marking some changes them together. */
export function AdTree({
  ads,
  nameOf,
  profiles,
  chosen,
  choose,
  marked,
  mark,
  filter,
  setFilter,
  kept,
  dropKept,
  children,
}: {
  /** those that the filters leave */
  ads: readonly StationAd[]
  nameOf: (key: string) => string
  profiles: readonly NetworkProfile[]
  chosen: string | null
  choose: (ad: StationAd) => void
  marked: ReadonlySet<string>
  /** marks ads, or takes their marks away when all of them have one */
  mark: (ads: readonly StationAd[]) => void
  filter: string
  setFilter: (filter: string) => void
  /** in words, what else the list is narrowed to */
  kept: string | null
  dropKept: () => void
  /** what stands below the filter */
  children?: React.ReactNode
}) {
  const { count } = useFormats()
  const [folded, setFolded] = useState<ReadonlySet<string>>(new Set())
  const lines = useMemo(() => linesOf(ads, nameOf, profiles, folded), [ads, nameOf, profiles, folded])
  const fold = (key: string) => setFolded(known => toggled(known, key))
  const foldAll = () => setFolded(folded.size > 0 ? new Set() : new Set(ads.map(campaignKey)))
  const scroller = useRef<HTMLDivElement>(null)
  const filterField = useRef<HTMLInputElement>(null)
  const virtual = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => 25,
    overscan: 16,
  })
  const here = ads.find(ad => adKey(ad) === chosen)
  /** The next ad in sight; from inside a folded campaign, the one below or above it. */
  const step = (by: 1 | -1) => {
    const at = lines.findIndex(
      l => l.key === chosen || (here && l.key === campaignKey(here) && folded.has(l.key)),
    )
    for (let i = at + by; i >= 0 && i < lines.length; i += by) {
      const line = lines[i]!
      if (line.kind !== 'ad') continue
      virtual.scrollToIndex(i)
      return choose(line.ad)
    }
  }
  // The ad that the address names is in sight when the list comes.
  const shown = useRef(false)
  useEffect(() => {
    const at = lines.findIndex(l => l.key === chosen)
    if (shown.current || at < 0) return
    shown.current = true
    virtual.scrollToIndex(at, { align: 'center' })
  }, [lines, chosen, virtual])
  useHotkeys('j', () => step(1), [lines, chosen])
  useHotkeys('k', () => step(-1), [lines, chosen])
  const foldHere = (wanted: boolean) =>
    here && folded.has(campaignKey(here)) !== wanted && fold(campaignKey(here))
  useHotkeys('h', () => foldHere(true), [here, folded])
  useHotkeys('l', () => foldHere(false), [here, folded])
  useHotkeys('shift+h', foldAll, [ads, folded])
  useHotkeys('x', () => here && mark([here]), [here, marked])
  useHotkeys('shift+x', () => mark(ads), [ads, marked])
  useHotkeys('slash', event => {
    event.preventDefault()
    filterField.current?.focus()
  })
  const marksOf = (of: readonly StationAd[]): Marks => {
    if (marked.size === 0 || !of.some(ad => marked.has(adKey(ad)))) return 'none'
    return of.every(ad => marked.has(adKey(ad))) ? 'all' : 'some'
  }
  return (
    <Flex
      direction="column"
      width="286px"
      flexShrink={0}
      borderRightWidth="1px"
      borderColor="hairline"
      height="100%"
    >
      <Box p="3" pb="2">
        <Input
          ref={filterField}
          aria-label="Filter ads"
          placeholder="Filter ads  /"
          value={filter}
          onChange={e => setFilter(e.target.value)}
        />
        <Flex mt="1.5" gap="2" fontSize="12px" color="quiet" align="center" wrap="wrap">
          <span style={{ display: 'flex', gap: 6, alignItems: 'center' }}>
            <MarkBox name="all that are shown" marks={marksOf(ads)} mark={() => mark(ads)} />
            {count(ads.length)} {ads.length === 1 ? 'ad' : 'ads'}
          </span>
          <Button
            variant="plain"
            title="Fold all campaigns, or unfold them  Shift H; that of the chosen ad  h, l"
            onClick={foldAll}
          >
            {folded.size > 0 ? 'unfold all' : 'fold all'}
          </Button>
          {kept && (
            <Button variant="plain" onClick={dropKept}>
              {kept}: show all
            </Button>
          )}
          {children}
        </Flex>
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
            No such ad.
          </Text>
        )}
        <Box height={`${virtual.getTotalSize()}px`} position="relative">
          {virtual.getVirtualItems().map(item => {
            const line = lines[item.index]!
            const below = line.kind === 'ad' ? [line.ad] : ads.slice(line.from, line.to)
            return (
              <TreeRow
                key={`${line.kind} ${line.key} ${line.kind === 'ad' ? '' : line.from}`}
                line={line}
                below={below}
                top={item.start}
                chosen={line.key === chosen}
                marks={marksOf(below)}
                mark={() => mark(below)}
                press={() => (line.kind === 'ad' ? choose(line.ad) : fold(line.key))}
              />
            )
          })}
        </Box>
      </Box>
    </Flex>
  )
}
