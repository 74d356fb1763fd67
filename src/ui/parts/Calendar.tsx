'use client'
import { DatePicker, Input } from '@chakra-ui/react'
import { parseDate } from '@internationalized/date'
import { DateTime } from 'luxon'
import { useState } from 'react'
import { type Formats, useFormats } from '../format'

/** A day as people type it: `2026-10-05`, or by their own habit (`05/10/2026`, `5 Oct 2026`). */
function readDay(text: string, locale: string) {
  const read = ['yyyy-MM-dd', 'D', 'DD']
    .map(format => DateTime.fromFormat(text.trim(), format, { locale, zone: 'utc' }))
    .find(day => day.isValid)
  return read ? parseDate(read.toISODate()!) : undefined
}

/** What every calendar is told: by whose habit days are written and read, and with which day weeks begin. */
export function useCalendar() {
  const { locale, zone, firstWeekday, day }: Formats = useFormats()
  return {
    locale,
    timeZone: zone,
    startOfWeek: firstWeekday % 7,
    format: (value: { toString: () => string }) => day(value.toString()),
    parse: (text: string) => readDay(text, locale),
  }
}

/** Days, months and years to choose from, within a `DatePicker.Root`. */
export const Calendar = () => (
  <>
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
  </>
)

/** A day of a period, `YYYY-MM-DD`, typed by anybody's habit; what is no day changes nothing, and is gone when it is left. */
export function TypedDay({
  label,
  value,
  change,
}: {
  label: string
  value: string
  change: (day: string) => void
}) {
  const { day, locale } = useFormats()
  const [typed, setTyped] = useState<string | null>(null)
  const keep = () => {
    const read = typed === null ? undefined : readDay(typed, locale)
    setTyped(null)
    if (read && read.toString() !== value) change(read.toString())
  }
  return (
    <Input
      width="130px"
      aria-label={label}
      value={typed ?? day(value)}
      onChange={event => setTyped(event.target.value)}
      onKeyDown={event => event.key === 'Enter' && keep()}
      onBlur={keep}
    />
  )
}
