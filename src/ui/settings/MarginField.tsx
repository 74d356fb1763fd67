'use client'
import type { ComponentProps } from 'react'
import { NumberField } from '../parts/Fields'

/** What is left of what something is worth, in per cent. */
export const MarginField = ({
  usual,
  ...props
}: Pick<ComponentProps<typeof NumberField>, 'label' | 'beside' | 'help' | 'unit'> & {
  /** of the form's value */
  name: string
  /** the share that holds where it is left empty */
  usual?: number
}) => (
  <NumberField
    unit="%"
    {...props}
    least={1}
    most={100}
    step={0.1}
    scale={0.01}
    placeholder={usual === undefined ? undefined : String(Math.round(usual * 1000) / 10)}
  />
)
