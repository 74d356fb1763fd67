'use client'
import { Skeleton } from '@chakra-ui/react'
import dynamic from 'next/dynamic'
import type { DayProps } from './DayChoice'
import { bindable, Labelled } from './Fields'

const Chosen = dynamic(() => import('./DayChoice').then(m => m.DayChoice), {
  ssr: false,
  loading: () => <Skeleton width="130px" height="30px" />,
})

/** A day, `YYYY-MM-DD`: typed by anybody's habit, or chosen from a calendar. */
export const DayField = bindable<string, DayProps>(props => (
  <Labelled {...props} width={props.width ?? 'auto'}>
    <Chosen {...props} />
  </Labelled>
))
