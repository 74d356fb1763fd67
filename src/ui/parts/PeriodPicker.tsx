'use client'
import dynamic from 'next/dynamic'
import { Later } from './Later'
import type { Days } from './PeriodChoice'

const Choice = dynamic(() => import('./PeriodChoice').then(m => m.PeriodChoice), { ssr: false })

/** Chooses a period: one of those that people ask for, or from one day to another. */
export const PeriodPicker = (props: {
  days: Days
  /** the days of which anything is known */
  span: Days | null
  /** in which days begin */
  zone: string
  change: (days: Days) => void
}) => <Later words="Days" label="Choose days" Part={Choice} {...props} />
