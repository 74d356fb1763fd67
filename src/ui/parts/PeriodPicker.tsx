'use client'
import { Button, Popover, Portal, Skeleton } from '@chakra-ui/react'
import dynamic from 'next/dynamic'
import { useState } from 'react'

/** A calendar is large, and most who look at a screen do not open it. */
const PeriodChoice = dynamic(() => import('./PeriodChoice').then(m => m.PeriodChoice), {
  ssr: false,
  loading: () => <Skeleton width="380px" height="280px" />,
})

interface Days {
  from: string
  to: string
}

/** Chooses a period: one of those that people ask for, or from one day to another. */
export function PeriodPicker({
  from,
  to,
  span,
  zone,
  change,
}: Days & {
  /** the days of which anything is known */
  span: Days | null
  /** in which days begin */
  zone: string
  change: (days: Days) => void
}) {
  const [open, setOpen] = useState(false)
  const take = (days: Days) => {
    change({ from: days.from, to: days.to })
    setOpen(false)
  }
  return (
    <Popover.Root
      lazyMount
      unmountOnExit
      open={open}
      onOpenChange={event => setOpen(event.open)}
      positioning={{ placement: 'bottom-start' }}
    >
      <Popover.Trigger asChild>
        <Button aria-label="Choose days">Days</Button>
      </Popover.Trigger>
      <Portal>
        <Popover.Positioner>
          <Popover.Content aria-label="Days" width="auto" maxWidth="none">
            <Popover.Body>
              <PeriodChoice from={from} to={to} span={span} zone={zone} take={take} />
            </Popover.Body>
          </Popover.Content>
        </Popover.Positioner>
      </Portal>
    </Popover.Root>
  )
}
