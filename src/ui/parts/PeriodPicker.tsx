'use client'
import dynamic from 'next/dynamic'
import { useFormats } from '../format'
import { Later } from './Later'
import type { Days } from './PeriodChoice'

const Choice = dynamic(() => import('./PeriodChoice').then(m => m.PeriodChoice), { ssr: false })

/** Chooses a period: one of those that people ask for, or from one day to another; and one to compare it with. */
export function PeriodPicker(props: {
  days: Days
  /** the days of which anything is known */
  span: Days | null
  change: (days: Days) => void
  /** whether it is compared with as many days before; none where nothing compares */
  compared?: boolean
  compare?: (compared: boolean) => void
}) {
  const { day } = useFormats()
  const words = `${day(props.days.from)} – ${day(props.days.to)}`
  return <Later words={words} label={`Days: ${words}`} Part={Choice} {...props} />
}
