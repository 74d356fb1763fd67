'use client'
import { Button, DatePicker, Flex, Popover, Portal } from '@chakra-ui/react'
import { parseDate } from '@internationalized/date'
import { useState } from 'react'
import { zoneClock } from '@/core/shared/days'
import { usualPeriods } from '@/core/shared/periods'

/** A period by its first and last day, `YYYY-MM-DD`. */
export interface Days {
  from: string
  to: string
}

/** The usual periods beside a calendar, opened by a button (`PeriodPicker`). */
export function PeriodChoice({
  words,
  label,
  days: { from, to },
  span,
  zone,
  change,
}: {
  words: string
  label?: string | undefined
  days: Days
  span: Days | null
  zone: string
  change: (days: Days) => void
}) {
  const [open, setOpen] = useState(true)
  const take = (days: Days) => {
    change({ from: days.from, to: days.to })
    setOpen(false)
  }
  const usual = usualPeriods(zoneClock(zone)(Date.now()).day, span)
  return (
    <Popover.Root
      lazyMount
      unmountOnExit
      open={open}
      onOpenChange={event => setOpen(event.open)}
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
                  {usual.map(({ name, ...days }) => (
                    <Button
                      key={name}
                      size="xs"
                      title={`${days.from} to ${days.to}`}
                      aria-pressed={days.from === from && days.to === to}
                      onClick={() => take(days)}
                    >
                      {name}
                    </Button>
                  ))}
                </Flex>
                <DatePicker.Root
                  inline
                  selectionMode="range"
                  locale="en-GB"
                  startOfWeek={1}
                  timeZone={zone}
                  defaultValue={[parseDate(from), parseDate(to)]}
                  onValueChange={({ value: [first, last] }) => {
                    if (first && last) take({ from: first.toString(), to: last.toString() })
                  }}
                >
                  <DatePicker.View view="day">
                    <DatePicker.Header />
                    <DatePicker.DayTable />
                  </DatePicker.View>
                  <DatePicker.View view="month">
                    <DatePicker.Header />
                    <DatePicker.MonthTable />
                  </DatePicker.View>
                  <DatePicker.View view="year">
                    <DatePicker.Header />
                    <DatePicker.YearTable />
                  </DatePicker.View>
                </DatePicker.Root>
              </Flex>
            </Popover.Body>
          </Popover.Content>
        </Popover.Positioner>
      </Portal>
    </Popover.Root>
  )
}
