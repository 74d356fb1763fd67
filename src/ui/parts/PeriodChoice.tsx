'use client'
import { Button, DatePicker, Flex } from '@chakra-ui/react'
import { parseDate } from '@internationalized/date'
import { zoneClock } from '@/core/shared/days'
import { usualPeriods } from '@/core/shared/periods'

interface Days {
  from: string
  to: string
}

/** What `PeriodPicker` opens: the usual periods beside a calendar. */
export function PeriodChoice({
  from,
  to,
  span,
  zone,
  take,
}: Days & { span: Days | null; zone: string; take: (days: Days) => void }) {
  const usual = usualPeriods(zoneClock(zone)(Date.now()).day, span)
  return (
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
  )
}
