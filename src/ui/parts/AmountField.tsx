'use client'
import { Box, Input } from '@chakra-ui/react'
import { type Ref, useState } from 'react'
import { formatAmount } from '@/core/shared/money'
import { readTyped } from '@/core/shared/typedAmount'
import { bindable, type Common, type Held, heard, Labelled } from './Fields'

/** Minor units; undefined for an empty field, NaN for what is no amount. */
type Units = number | undefined

interface AmountProps extends Common, Held<Units> {
  currency: string
  placeholder?: string
  /** what an empty field stands for */
  empty?: number
}

/** An amount of a currency, typed by anybody's habit. What was read is shown when the field is left. */
export const AmountField = bindable<Units, AmountProps>(props => {
  const { value, currency, change, empty, left } = props
  const [text, setText] = useState(
    value === undefined || Number.isNaN(value) ? '' : formatAmount(value, currency),
  )
  const read = text.trim() === '' ? undefined : readTyped(text, currency)
  const problem = read && 'problem' in read ? read.problem : props.problem
  return (
    <Labelled {...props} width={props.unseen ? undefined : props.width} problem={problem}>
      <Box fontSize="13px" whiteSpace="nowrap">
        <Input
          {...heard(props)}
          ref={props.control as Ref<HTMLInputElement>}
          width={props.width ?? '100px'}
          inputMode="decimal"
          aria-invalid={problem !== undefined}
          placeholder={props.placeholder}
          disabled={props.disabled ?? false}
          value={text}
          onChange={event => {
            const typed = event.target.value
            setText(typed)
            const now = typed.trim() === '' ? empty : readTyped(typed, currency)
            change(typeof now === 'object' ? ('problem' in now ? Number.NaN : now.amount) : now)
          }}
          onBlur={() => {
            if (read && 'amount' in read) setText(formatAmount(read.amount, currency))
            left?.()
          }}
        />{' '}
        {currency}
      </Box>
    </Labelled>
  )
})
