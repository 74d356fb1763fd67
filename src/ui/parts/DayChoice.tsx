'use client'
import { DatePicker, Portal } from '@chakra-ui/react'
import { parseDate } from '@internationalized/date'
import { CalendarDays } from 'lucide-react'
import { Calendar, TypedDay, useCalendar } from './Calendar'
import type { Common, Held } from './Fields'

export interface DayProps extends Common, Held<string> {
  /** `YYYY-MM-DD` */
  least?: string
  most?: string
}

/** The field of a `DayField`, which is fetched when a form with one is opened. */
export function DayChoice({ label, value, least, most, disabled, change, left }: DayProps) {
  return (
    <DatePicker.Root
      {...useCalendar()}
      width="136px"
      lazyMount
      unmountOnExit
      min={least ? parseDate(least) : undefined}
      max={most ? parseDate(most) : undefined}
      disabled={disabled ?? false}
      value={value ? [parseDate(value)] : []}
      onValueChange={({ value: [day] }) => day && change(day.toString())}
    >
      <DatePicker.Control>
        <TypedDay live label={label} value={value} change={change} disabled={disabled} left={left} />
        <DatePicker.IndicatorGroup>
          <DatePicker.Trigger aria-label="Choose it from a calendar">
            <CalendarDays size={14} />
          </DatePicker.Trigger>
        </DatePicker.IndicatorGroup>
      </DatePicker.Control>
      <Portal>
        <DatePicker.Positioner>
          <DatePicker.Content>
            <Calendar />
          </DatePicker.Content>
        </DatePicker.Positioner>
      </Portal>
    </DatePicker.Root>
  )
}
