'use client'
import { Box, Flex, Text } from '@chakra-ui/react'
import { useEffect, useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import type { Arrival } from '@/server/arrivals'
import { GradeMark, gradeWords } from '../evidence/texture'
import { placedByWords } from '../evidence/words'
import { count, instant } from '../format'
import { arrivalKinds, kindOf, kindsInOrder } from './arrivalKinds'
import { IntakeNav } from './IntakeNav'
import { Way } from './Way'

/** Intake: what arrived last, renewed as it arrives. */
export function IntakeScreen({
  first,
  version,
  network,
  zone,
}: {
  first: Arrival[]
  version: number
  network: string | null
  zone: string
}) {
  const [arrivals, setArrivals] = useState(first)
  const [chosen, setChosen] = useState<string | null>(first[0]?.id ?? null)
  const [kind, setKind] = useState<'all' | Arrival['kind']>('all')
  const [lost, setLost] = useState(false)
  const [paused, setPaused] = useState(false)

  useEffect(() => {
    let known = version
    let ended = false
    let looking = false
    let again = false
    /** One look at a time: many arrivals in a second are one renewal. */
    const look = async (): Promise<void> => {
      again = looking
      if (looking) return
      looking = true
      try {
        const query = new URLSearchParams({ version: String(known), ...(network ? { network } : {}) })
        const answer = await fetch(`/api/arrivals?${query}`)
        const body: { version: number; arrivals: Arrival[] | null } = await answer.json()
        if (ended) return
        known = body.version
        if (body.arrivals) setArrivals(body.arrivals)
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
  }, [version, network, paused])

  const shown = arrivals.filter(a => kind === 'all' || a.kind === kind)
  const at = shown.findIndex(a => a.id === chosen)
  const current = shown[Math.max(0, at)]
  const step = (by: number) => setChosen(shown[Math.max(0, Math.min(shown.length - 1, at + by))]?.id ?? null)
  useHotkeys('j, down', () => step(1), { preventDefault: true }, [shown, at])
  useHotkeys('k, up', () => step(-1), { preventDefault: true }, [shown, at])

  const orders = arrivals.filter(a => a.kind === 'order')
  const numberOf = (k: Arrival['kind']) => arrivals.filter(a => a.kind === k).length
  const present = kindsInOrder.filter(k => numberOf(k) > 0)
  const unplaced = orders.filter(o => o.evidence?.grade === 'unplaced').length
  return (
    <Flex direction="column" height="100%">
      <Box px="5" pt="4" pb="3">
        <IntakeNav here="/intake" />
        <Text as="h1" fontSize="19px">
          {arrivals.length === 0
            ? 'Nothing has arrived yet. Click a tagged ad, or take in a file: it shows here within two seconds.'
            : `The latest ${count(arrivals.length)} arrivals: ${present.map(k => `${count(numberOf(k))} ${numberOf(k) === 1 ? arrivalKinds[k].one : arrivalKinds[k].many}`).join(', ')}. ${count(unplaced)} of the orders ${unplaced === 1 ? 'has' : 'have'} nothing that says where they came from.`}
        </Text>
        <Flex gap="2" mt="2" align="center" fontSize="13px">
          {(['all', ...present] as const).map(k => (
            <Box
              as="button"
              key={k}
              className="field"
              cursor="pointer"
              aria-pressed={kind === k}
              fontWeight={kind === k ? 700 : 400}
              onClick={() => setKind(k)}
            >
              {k === 'all' ? 'everything' : arrivalKinds[k].many}
            </Box>
          ))}
          <Box
            as="button"
            className="field"
            cursor="pointer"
            ml="auto"
            aria-pressed={paused}
            onClick={() => setPaused(!paused)}
          >
            {paused ? 'Go on' : 'Pause'}
          </Box>
          <Text color={lost ? 'alarm' : 'quiet'} aria-live="polite">
            {lost
              ? 'The application does not answer; what is shown may be old.'
              : paused
                ? 'Paused: what arrives is kept and shown when you go on.'
                : `times in ${zone}`}
          </Text>
        </Flex>
      </Box>
      <Flex flex="1" minHeight="0" borderTopWidth="1px" borderColor="hairline">
        <Box flex="1" overflowY="auto" role="region" aria-label="Arrivals" tabIndex={0}>
          {shown.map(a => (
            <Line
              key={`${a.kind}${a.id}`}
              arrival={a}
              zone={zone}
              current={a === current}
              choose={() => setChosen(a.id)}
            />
          ))}
        </Box>
        {current && <Record arrival={current} zone={zone} />}
      </Flex>
    </Flex>
  )
}

function Line({
  arrival: a,
  zone,
  current,
  choose,
}: {
  arrival: Arrival
  zone: string
  current: boolean
  choose: () => void
}) {
  const { Icon, one, side, title, note } = kindOf(a)
  return (
    <Flex
      as="button"
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
      aria-current={current}
      cursor="pointer"
      onClick={choose}
    >
      <Icon size={14} aria-label={one} color={`var(--chakra-colors-${side})`} />
      <Text width="160px" flexShrink={0} color="quiet">
        {instant(a.at, zone)}
      </Text>
      <Text flex="1" minWidth="0" truncate>
        {title(a)}
      </Text>
      {a.kind === 'order' && a.evidence && (
        <Text width="80px" flexShrink={0}>
          <GradeMark grade={a.evidence.grade} />
        </Text>
      )}
      <Text
        width={a.kind === 'order' ? '90px' : '170px'}
        flexShrink={0}
        textAlign="right"
        color={a.kind === 'order' ? undefined : 'quiet'}
        truncate
      >
        {note(a)}
      </Text>
    </Flex>
  )
}

/** The click on whose way an arrival lies, if one is known. */
const clickOf = (a: Arrival): string | null =>
  a.kind === 'click' ? a.id : a.kind === 'order' ? (a.evidence?.credits[0]?.clickId ?? null) : a.click

/** One arrival whole. */
function Record({ arrival: a, zone }: { arrival: Arrival; zone: string }) {
  const evidence = a.kind === 'order' ? a.evidence : null
  return (
    <Box
      as="section"
      aria-label="The whole record"
      width="390px"
      flexShrink={0}
      borderLeftWidth="1px"
      borderColor="hairline"
      bg="sheet"
      overflowY="auto"
      p="4"
      fontSize="13px"
    >
      <Text color="quiet">
        {kindOf(a).one} · {a.weekday}, {String(a.hour).padStart(2, '0')} h
      </Text>
      <Text as="h2" fontFamily="mono" fontSize="13px" fontWeight="650" wordBreak="break-all">
        {a.id}
      </Text>
      <Text mb="2">{instant(a.at, zone)}</Text>
      {evidence && (
        <Box mb="3">
          <GradeMark grade={evidence.grade} />:{' '}
          {evidence.by ? placedByWords[evidence.by] : gradeWords[evidence.grade]}.
        </Box>
      )}
      {a.kind === 'order' && !evidence && (
        <Text mb="3">It counts as {a.result}, and Weigh judges orders: it is in none of its figures.</Text>
      )}
      <Facts rows={kindOf(a).facts(a)} />
      {clickOf(a) && <Way click={clickOf(a)!} current={a.id} zone={zone} />}
      <Text mt="3" fontWeight="650">
        {a.kind === 'event' ? 'Page' : a.kind === 'hop' ? 'Offer' : 'Landing page'}
      </Text>
      <Text fontFamily="mono" fontSize="12px" wordBreak="break-all">
        {a.landing ? a.landing.split('?')[0] : '—'}
      </Text>
      <Text mt="3" fontWeight="650">
        Parameters
      </Text>
      {a.parameters.length === 0 ? (
        <Text color="quiet">It carried none.</Text>
      ) : (
        <Facts rows={a.parameters} mono />
      )}
    </Box>
  )
}

function Facts({ rows, mono }: { rows: readonly (readonly [string, string | null])[]; mono?: boolean }) {
  return (
    <>
      {rows
        .filter(([, value]) => value)
        .map(([name, value]) => (
          <Flex key={name} borderTopWidth="1px" borderColor="hairline" py="1" gap="3">
            <Text
              width="120px"
              flexShrink={0}
              color="quiet"
              fontFamily={mono ? 'mono' : undefined}
              fontSize={mono ? '12px' : undefined}
            >
              {name}
            </Text>
            <Text
              wordBreak="break-all"
              fontFamily={mono ? 'mono' : undefined}
              fontSize={mono ? '12px' : undefined}
            >
              {value}
            </Text>
          </Flex>
        ))}
    </>
  )
}
