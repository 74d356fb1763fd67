'use client'
import { Flex, Input } from '@chakra-ui/react'

/** A period by its first and last day, `YYYY-MM-DD`. */
export function DaysField({
  from,
  to,
  names = ['First day', 'Last day'],
  change,
}: {
  from: string
  to: string
  names?: readonly [first: string, last: string]
  change: (days: { from: string; to: string }) => void
}) {
  return (
    <Flex gap="1" align="center">
      <DayInput label={names[0]} value={from} most={to} change={day => change({ from: day, to })} />
      <span aria-hidden>–</span>
      <DayInput label={names[1]} value={to} least={from} change={day => change({ from, to: day })} />
    </Flex>
  )
}

/** One day. A day that is only half typed changes nothing. */
export function DayInput({
  label,
  value,
  least,
  most,
  change,
}: {
  label: string
  value: string
  least?: string
  most?: string
  change: (day: string) => void
}) {
  return (
    <Input
      type="date"
      width="116px"
      aria-label={label}
      value={value}
      min={least}
      max={most}
      colorScheme={{ base: 'light', _dark: 'dark' }}
      onChange={event => event.target.value && change(event.target.value)}
    />
  )
}
