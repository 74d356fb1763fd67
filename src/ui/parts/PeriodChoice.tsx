'use client'
import { Box, Button, DatePicker, Flex, Popover, Portal } from '@chakra-ui/react'
import { parseDate } from '@internationalized/date'
import { useState } from 'react'
import { zoneClock } from '@/core/shared/days'
import { usualPeriods } from '@/core/shared/periods'
import { useFormats } from '../format'
import { Calendar, TypedDay, useCalendar } from './Calendar'
import { CheckField } from './CheckField'

/** A period by its first and last day, `YYYY-MM-DD`. */
export interface Days {
  from: string
  to: string
}

/** The usual periods beside two days that can be typed and a calendar, opened by a button (`PeriodPicker`). */
export function PeriodChoice({
  words,
  label,
  days,
  span,
  change,
  compared,
  compare,
}: {
  words: string
  label?: string | undefined
  days: Days
  span: Days | null
  change: (days: Days) => void
  compared?: boolean
  compare?: (compared: boolean) => void
}) {
  const { zone, firstWeekday, day } = useFormats()
  const [open, setOpen] = useState(true)
  /** the days last asked for, which the page may not show yet */
  const [asked, setAsked] = useState(days)
  const { from, to } = asked
  const choose = (next: Days) => {
    setAsked(next)
    change(next)
  }
  const usual = usualPeriods(zoneClock(zone)(Date.now()).day, span, firstWeekday)
  return (
    <Popover.Root
      lazyMount
      unmountOnExit
      open={open}
      onOpenChange={event => {
        setAsked(days)
        setOpen(event.open)
      }}
      positioning={{ placement: 'bottom-start' }}
    >
      <Popover.Trigger asChild>
        <Button aria-label={label}>{words}</Button>
      </Popover.Trigger>
      <Portal>
        <Popover.Positioner>
          <Popover.Content aria-label="Days" width="auto" maxWidth="none">
            <Popover.Body>
              <Flex gap="4">
                <Flex direction="column" gap="1" align="stretch">
                  {usual.map(({ name, ...own }) => (
                    <Button
                      key={name}
                      size="xs"
                      title={`${day(own.from)} – ${day(own.to)}`}
                      aria-pressed={own.from === from && own.to === to}
                      onClick={() => {
                        choose(own)
                        setOpen(false)
                      }}
                    >
                      {name}
                    </Button>
                  ))}
                </Flex>
                <Box>
                  <Flex gap="1" mb="2">
                    <TypedDay
                      label="First day"
                      value={from}
                      change={day => choose({ from: day, to: day > to ? day : to })}
                    />
                    <TypedDay
                      label="Last day"
                      value={to}
                      change={day => choose({ from: day < from ? day : from, to: day })}
                    />
                  </Flex>
                  <DatePicker.Root
                    key={`${from} ${to}`}
                    {...useCalendar()}
                    inline
                    selectionMode="range"
                    defaultValue={[parseDate(from), parseDate(to)]}
                    onValueChange={({ value: [first, last] }) => {
                      if (first && last) choose({ from: first.toString(), to: last.toString() })
                    }}
                  >
                    <Calendar />
                  </DatePicker.Root>
                </Box>
              </Flex>
              {compare && (
                <CheckField
                  label="beside as many days before"
                  value={compared ?? false}
                  change={wanted => {
                    compare(wanted)
                    setOpen(false)
                  }}
                />
              )}
            </Popover.Body>
          </Popover.Content>
        </Popover.Positioner>
      </Portal>
    </Popover.Root>
  )
}
