'use client'
import { Box, Button, Flex, Text } from '@chakra-ui/react'
import dynamic from 'next/dynamic'
import { useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import type { ArrivalFilter } from '@/core/intake/arrivalFilter'
import type { Arrival, Minutes } from '@/server/arrivals/latest'
import { GradeMark } from '../evidence/texture'
import { useFormats } from '../format'
import { Sentence } from '../parts/Page'
import { PartNav } from '../parts/PartNav'
import { PlainButton } from '../parts/Plain'
import { useNetworkName } from '../shell/NetworkNames'
import { ArrivalRecord } from './ArrivalRecord'
import { arrivalKinds, kindOf, kindsInOrder } from './arrivalKinds'
import { type FeedChoices, FeedFilters } from './FeedFilters'
import { useArrivals } from './useArrivals'

const MinuteChart = dynamic(() => import('./MinuteChart').then(m => m.MinuteChart), {
  ssr: false,
  loading: () => <Box height="64px" />,
})

/** Intake: what arrived last, renewed as it arrives. */
export function IntakeScreen({
  first,
  minutes: firstMinutes,
  version,
  filter,
  choices,
}: {
  first: Arrival[]
  minutes: Minutes
  version: number
  filter: ArrivalFilter
  choices: FeedChoices
}) {
  const { count, zone } = useFormats()
  const [paused, setPaused] = useState(false)
  const { arrivals, minutes, lost } = useArrivals(
    { arrivals: first, minutes: firstMinutes, version },
    filter,
    paused,
  )
  const [chosen, setChosen] = useState<string | null>(first[0]?.id ?? null)

  const at = arrivals.findIndex(a => a.id === chosen)
  const current = arrivals[Math.max(0, at)]
  const step = (by: number) =>
    setChosen(arrivals[Math.max(0, Math.min(arrivals.length - 1, at + by))]?.id ?? null)
  useHotkeys('j, down', () => step(1), { preventDefault: true }, [arrivals, at])
  useHotkeys('k, up', () => step(-1), { preventDefault: true }, [arrivals, at])

  const numberOf = (k: Arrival['kind']) => arrivals.filter(a => a.kind === k).length
  const present = kindsInOrder.filter(k => numberOf(k) > 0)
  const unplaced = arrivals.filter(a => a.problem === 'no_evidence').length
  const filtered = Object.values(filter).some(value => value !== null)
  return (
    <Flex direction="column" height="100%">
      <Box px="5" pt="4" pb="2">
        <PartNav here="/intake" />
        <Sentence>
          {arrivals.length === 0
            ? filtered
              ? 'Nothing that arrived fits this choice.'
              : 'Nothing has arrived yet. Click a tagged ad, or take in a file: it shows here within two seconds.'
            : `The latest ${count(arrivals.length)} arrivals${filtered ? ' of this choice' : ''}: ${present.map(k => `${count(numberOf(k))} ${numberOf(k) === 1 ? arrivalKinds[k].one : arrivalKinds[k].many}`).join(', ')}.${unplaced > 0 ? ` ${count(unplaced)} of the orders ${unplaced === 1 ? 'has' : 'have'} nothing that says where they came from.` : ''}`}
        </Sentence>
        <FeedFilters filter={filter} choices={choices}>
          <Button ml="auto" aria-pressed={paused} onClick={() => setPaused(!paused)}>
            {paused ? 'Go on' : 'Pause'}
          </Button>
        </FeedFilters>
        <Text color={lost ? 'alarm' : 'quiet'} fontSize="12px" aria-live="polite" mt="1">
          {lost
            ? 'The application does not answer; what is shown may be old.'
            : paused
              ? 'Paused: what arrives is kept and shown when you go on.'
              : `times in ${zone}`}
        </Text>
        <MinuteChart minutes={minutes} />
      </Box>
      <Flex flex="1" minHeight="0" borderTopWidth="1px" borderColor="hairline">
        <Box flex="1" minWidth="0" overflowY="auto" role="region" aria-label="Arrivals" tabIndex={0}>
          {arrivals.map(a => (
            <Line
              key={`${a.kind}${a.id}`}
              arrival={a}
              current={a === current}
              choose={() => setChosen(a.id)}
            />
          ))}
        </Box>
        {current && <ArrivalRecord arrival={current} />}
      </Flex>
    </Flex>
  )
}

function Line({ arrival: a, current, choose }: { arrival: Arrival; current: boolean; choose: () => void }) {
  const formats = useFormats()
  const { instant } = formats
  const networkName = useNetworkName()
  const { Icon, one, side, title, note } = kindOf(a)
  return (
    <Flex
      asChild
      width="100%"
      textAlign="left"
      gap="3"
      px="5"
      height="30px"
      align="center"
      fontSize="13px"
      borderBottomWidth="1px"
      borderColor="hairline"
      bg={current ? 'mark' : undefined}
      cursor="pointer"
    >
      <PlainButton aria-current={current} onClick={choose}>
        <Icon size={14} aria-label={one} color={`var(--chakra-colors-${side})`} />
        <Text as="span" width="160px" flexShrink={0} color="quiet">
          {instant(a.at)}
        </Text>
        <Text as="span" flex="1" minWidth="0" truncate>
          {title(a, networkName)}
        </Text>
        {a.kind === 'order' && a.evidence && (
          <Text as="span" width="80px" flexShrink={0}>
            <GradeMark grade={a.evidence.grade} />
          </Text>
        )}
        <Text
          as="span"
          width={a.kind === 'order' ? '90px' : '170px'}
          flexShrink={0}
          textAlign="right"
          color={a.kind === 'order' ? undefined : 'quiet'}
          truncate
        >
          {note(a, formats)}
        </Text>
      </PlainButton>
    </Flex>
  )
}
