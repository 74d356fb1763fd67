'use client'
import { Box, Flex, Text } from '@chakra-ui/react'
import Link from 'next/link'
import type { Reporter } from '@/core/intake/reportedBy'
import type { Arrival } from '@/server/arrivals/latest'
import { GradeMark, gradeWords } from '../evidence/texture'
import { placedByWords } from '../evidence/words'
import { useFormats } from '../format'
import { Fold } from '../parts/Fold'
import { useNetworkName } from '../shell/NetworkNames'
import { kindOf } from './arrivalKinds'
import { Way } from './Way'

/** Who vouches for a record. */
const reporterWords: Record<Reporter, string> = {
  shop: 'Sent by the shop, signed',
  partner: 'Sent by the partner',
  collector: 'Recorded by Aequant',
  browser: 'Reported by a browser: nobody else confirms it here',
  file: 'Imported from a file',
}

/** The click on whose way an arrival lies, if one is known. */
const clickOf = (a: Arrival): string | null =>
  a.kind === 'click'
    ? a.id
    : a.kind === 'order'
      ? (a.evidence?.credits[0]?.clickId ?? null)
      : a.kind === 'report'
        ? null
        : a.click

/** One arrival whole. */
export function ArrivalRecord({ arrival: a }: { arrival: Arrival }) {
  const formats = useFormats()
  const { instant } = formats
  const networkName = useNetworkName()
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
      <Text>{instant(a.at)}</Text>
      <Text mb="2" color="quiet">
        {reporterWords[a.reportedBy]}
      </Text>
      {evidence && (
        <Box mb="3">
          <GradeMark grade={evidence.grade} />:{' '}
          {evidence.by ? placedByWords[evidence.by] : gradeWords[evidence.grade]}.
        </Box>
      )}
      {a.kind === 'order' && !evidence && (
        <Text mb="3">It counts as {a.result}, and Weigh judges orders: it is in none of its figures.</Text>
      )}
      <Facts rows={kindOf(a).facts(a, networkName, formats)} />
      {clickOf(a) && <Way click={clickOf(a)!} current={a.id} />}
      {a.kind === 'order' && (
        <Box asChild textDecoration="underline">
          <Link href={`/intake/orders/${encodeURIComponent(a.id)}`}>Open the order with every touch</Link>
        </Box>
      )}
      {a.kind !== 'report' && a.kind !== 'postback' && (
        <>
          <Text mt="3" fontWeight="650">
            {a.kind === 'event' ? 'Page' : a.kind === 'hop' ? 'Offer' : 'Landing page'}
          </Text>
          <Text fontFamily="mono" fontSize="12px" wordBreak="break-all">
            {a.landing ? a.landing.split('?')[0] : '—'}
          </Text>
        </>
      )}
      {a.kind !== 'report' && (
        <>
          <Text mt="3" fontWeight="650">
            Parameters
          </Text>
          {a.parameters.length === 0 ? (
            <Text color="quiet">It carried none.</Text>
          ) : (
            <Facts rows={a.parameters} mono />
          )}
        </>
      )}
      <Fold title="As it is kept" mt="3">
        <Box as="pre" fontFamily="mono" fontSize="11px" whiteSpace="pre-wrap" wordBreak="break-all" mt="1">
          {JSON.stringify(a.raw, null, 1)}
        </Box>
      </Fold>
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
