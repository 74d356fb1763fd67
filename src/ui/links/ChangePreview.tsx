'use client'
import { Box, Flex, Text } from '@chakra-ui/react'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useMemo, useRef } from 'react'
import type { LinkChange } from '@/core/links/change'
import type { NetworkProfile } from '@/core/links/profile'
import { useFormats } from '../format'
import { useNetworkName } from '../shell/NetworkNames'
import type { LinkStation } from './station'
import { Template } from './TemplateField'

const nameOfChange = (
  change: LinkChange,
  station: LinkStation,
  adNames: ReadonlyMap<string, string>,
): string =>
  change.what === 'ad' || change.level === 'ad'
    ? (adNames.get(`${change.network}/${change.what === 'ad' ? change.ad : change.scope}`) ?? '')
    : change.level === 'account'
      ? 'account'
      : (station.names[`${change.network}/${change.level}/${change.scope}`] ?? change.scope)

/** The difference that a change makes: what was before, and what is after. */
function Difference({ change, profile }: { change: LinkChange; profile: NetworkProfile | undefined }) {
  if (change.what === 'ad')
    return `${change.before.landingPage ?? 'nowhere'} → ${change.after.landingPage ?? 'nowhere'}`
  const value = (template: string | undefined) =>
    template === undefined
      ? 'not set'
      : template === ''
        ? 'removed'
        : profile && <Template template={template} profile={profile} />
  return [...new Set([...Object.keys(change.before), ...Object.keys(change.after)])]
    .filter(key => change.before[key] !== change.after[key])
    .map(key => (
      <span key={key}>
        {key}: {value(change.before[key])} → {value(change.after[key])}{' '}
      </span>
    ))
}

/** Every change before it is made, however many they are. */
export function ChangePreview({
  changes,
  station,
  asked,
}: {
  changes: readonly LinkChange[]
  station: LinkStation
  asked: boolean
}) {
  const { count } = useFormats()
  const networkName = useNetworkName()
  const scroller = useRef<HTMLDivElement>(null)
  const adNames = useMemo(
    () => new Map(station.ads.map(ad => [`${ad.network}/${ad.id}`, ad.name])),
    [station.ads],
  )
  const profileOf = useMemo(() => new Map(station.profiles.map(p => [p.id, p])), [station.profiles])
  const virtual = useVirtualizer({
    count: changes.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => 24,
    overscan: 10,
  })
  return (
    <>
      <Text mt="3" color="quiet" role="status">
        {!asked
          ? 'Say what to do: every change is listed here before it is made.'
          : changes.length === 0
            ? 'Nothing would change: they have it already.'
            : `${count(changes.length)} ${changes.length === 1 ? 'change' : 'changes'}, one step to undo:`}
      </Text>
      <Box
        ref={scroller}
        maxHeight="380px"
        overflowY="auto"
        mt="1"
        role="region"
        aria-label="What would change"
        tabIndex={0}
      >
        <Box height={`${virtual.getTotalSize()}px`} position="relative">
          {virtual.getVirtualItems().map(item => {
            const change = changes[item.index]!
            return (
              <Flex
                key={item.key}
                position="absolute"
                top="0"
                left="0"
                right="0"
                height="24px"
                transform={`translateY(${item.start}px)`}
                gap="3"
                borderTopWidth="1px"
                borderColor="hairline"
              >
                <Text width="240px" flexShrink={0} truncate>
                  {networkName(change.network)} › {nameOfChange(change, station, adNames)}
                </Text>
                <Text truncate fontFamily="mono" fontSize="12px">
                  <Difference change={change} profile={profileOf.get(change.network)} />
                </Text>
              </Flex>
            )
          })}
        </Box>
      </Box>
    </>
  )
}
