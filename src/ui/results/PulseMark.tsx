import { Box, Text } from '@chakra-ui/react'
import { Activity, CircleDashed, type LucideIcon, Moon, Waves } from 'lucide-react'
import type { Pulse, PulseReading } from '@/core/signals/pulse'
import type { SignalCell } from '@/server/signals/results'
import { type Formats, useFormats } from '../format'

const marks: Record<
  Pulse,
  {
    Icon: LucideIcon
    word: string
    colour: string
    probably: (reading: PulseReading, through: SignalCell['through'], count: Formats['count']) => string
  }
> = {
  never_heard: {
    Icon: CircleDashed,
    word: 'never heard',
    colour: 'quiet',
    probably: () => 'Nothing came in five weeks: it is not installed, or nobody has got there yet.',
  },
  live: { Icon: Activity, word: 'live', colour: 'shop', probably: () => 'Heard as often as usual.' },
  quiet: {
    Icon: Moon,
    word: 'quiet',
    colour: 'alarm',
    probably: (r, through, count) =>
      `${count(Math.round(r.expected))} were expected since. ${through === 'shop' ? 'The shop sends its orders no more, or nobody orders.' : 'The tag is gone from the page, or shoppers no longer get there.'}`,
  },
  too_many: {
    Icon: Waves,
    word: 'too many',
    colour: 'alarm',
    probably: (r, _, count) =>
      r.repeats > 0
        ? `${count(r.repeats)} of ${count(r.seen)} in the last day were told before: a page that is reloaded, or a tag that fires twice.`
        : `${count(r.seen)} in the last day where ${count(Math.round(r.expected))} are usual: it fires on too many pages, or something really happened.`,
  },
}

/** The pulse of a signal with the last time it was heard, and what it probably means. */
export function PulseMark({ cell, now }: { cell: SignalCell; now: number }) {
  const { count, instant, between, zone } = useFormats()
  const { reading, through } = cell
  const { Icon, word, colour, probably } = marks[reading.pulse]
  const last = reading.lastAt === null ? '' : `last ${instant(reading.lastAt)} ${zone}. `
  return (
    <Box
      display="flex"
      gap="1.5"
      alignItems="center"
      title={`${last}${probably(reading, through, count)}`}
      color={colour}
      fontSize="12px"
      whiteSpace="nowrap"
    >
      <Icon size={13} aria-hidden />
      <Text as="span">
        {word}
        {reading.lastAt !== null && `, ${between(Math.max(0, now - reading.lastAt))} ago`}
      </Text>
    </Box>
  )
}
