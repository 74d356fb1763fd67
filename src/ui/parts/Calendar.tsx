'use client'
import { Box, DatePicker, Input, Text } from '@chakra-ui/react'
import { parseDate } from '@internationalized/date'
import { useState } from 'react'
import { readTypedDay } from '@/core/shared/typedDay'
import { type Formats, useFormats } from '../format'

/** What every calendar is told: by whose habit days are written and read, and with which day weeks begin. */
export function useCalendar() {
  const { locale, zone, firstWeekday, day }: Formats = useFormats()
  return {
    locale,
    timeZone: zone,
    startOfWeek: firstWeekday % 7,
    format: (value: { toString: () => string }) => day(value.toString()),
    parse: (text: string) => {
      const read = readTypedDay(text, locale)
      return read === null ? undefined : parseDate(read)
    },
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

/** A day, `YYYY-MM-DD`, typed by anybody's habit; what is no day stays as it was typed, and is said below. */
export function TypedDay({
  label,
  value,
  change,
  live,
  disabled,
  left,
}: {
  label: string
  value: string
  change: (day: string) => void
  /** whether a day is taken as soon as it is one, and not only when the field is left */
  live?: boolean
  disabled?: boolean | undefined
  left?: (() => void) | undefined
}) {
  const { day, locale } = useFormats()
  const [typed, setTyped] = useState<string | null>(null)
  const read = typed === null ? null : readTypedDay(typed, locale)
  const [refused, setRefused] = useState(false)
  const keep = () => {
    if (typed === null) return
    setRefused(read === null)
    if (read === null) return
    setTyped(null)
    if (read !== value) change(read)
  }
  return (
    <Box>
      <Input
        width="130px"
        aria-label={label}
        aria-invalid={refused}
        disabled={disabled ?? false}
        value={typed ?? (value ? day(value) : '')}
        onChange={event => {
          const text = event.target.value
          setTyped(text)
          setRefused(false)
          const day = live ? readTypedDay(text, locale) : null
          if (day !== null && day !== value) change(day)
        }}
        onKeyDown={event => {
          if (event.key !== 'Enter') return
          // Within a form it would send the form.
          event.preventDefault()
          keep()
        }}
        onBlur={() => {
          keep()
          left?.()
        }}
      />
      {refused && (
        <Text role="alert" color="alarm" fontSize="12px" maxWidth="200px">
          “{typed}” is not a date. Enter it like {day('2026-11-15')} or 2026-11-15.
        </Text>
      )}
    </Box>
  )
}
