'use client'
import { Box, Flex, Text } from '@chakra-ui/react'
import type { ReactNode } from 'react'
import { PartNav } from './PartNav'

/** The words with which a screen opens: live figures, each of which may be a link. */
export const Sentence = ({ live, children }: { live?: boolean; children: ReactNode }) => (
  <Text
    as="h1"
    fontSize="19px"
    lineHeight="1.35"
    maxWidth="62rem"
    textWrap="pretty"
    {...(live ? { 'aria-live': 'polite' as const } : {})}
  >
    {children}
  </Text>
)

/**
 * A screen of a station: its parts, one sentence, what can be done, and what it shows.
 *
 * @param at its path; none for a station of one part
 * @param beside what stands at its side while something is edited
 * @param drop what the whole page takes when a file is dropped on it
 */
export function Page({
  at,
  says,
  live = false,
  actions,
  beside,
  drop,
  children,
}: {
  at?: string
  says: ReactNode
  /** whether the sentence is read out as it changes: what somebody waits for */
  live?: boolean
  actions?: ReactNode
  beside?: ReactNode
  drop?: object
  children: ReactNode
}) {
  return (
    <Flex height="100%" position="relative">
      <Box flex="1" minWidth="0" overflowY="auto" px="5" pt="4" pb="8" {...drop}>
        {at && <PartNav here={at} />}
        <Sentence live={live}>{says}</Sentence>
        {actions && (
          <Flex gap="2" mt="2" fontSize="13px" align="center" wrap="wrap" className="no-print">
            {actions}
          </Flex>
        )}
        <Box mt="2">{children}</Box>
      </Box>
      {beside}
    </Flex>
  )
}

/** A part of a page under a heading of its own. */
export function Section({
  title,
  label,
  children,
}: {
  title: ReactNode
  /** where the title is no words */
  label?: string
  children: ReactNode
}) {
  return (
    <Box as="section" aria-label={label ?? (typeof title === 'string' ? title : undefined)} mt="5">
      <Text as="h2" fontSize="16px" fontWeight="650">
        {title}
      </Text>
      {children}
    </Box>
  )
}

/** A remark: quiet, or alarming. */
export const Note = ({ alarm, children }: { alarm?: boolean; children: ReactNode }) => (
  <Text
    fontSize="13px"
    color={alarm ? 'alarm' : 'quiet'}
    maxWidth="62rem"
    mt="1"
    {...(alarm ? { role: 'alert' } : {})}
  >
    {children}
  </Text>
)

/** What is being done or was done, read out as it changes; its line is there before the words are. */
export const Said = ({
  busy,
  alarm,
  children,
}: {
  busy?: string | false
  alarm?: boolean
  children?: ReactNode
}) => (
  <Text aria-live="polite" minHeight="20px" mt="1" fontSize="13px" color={alarm && !busy ? 'alarm' : 'quiet'}>
    {busy || children}
  </Text>
)
