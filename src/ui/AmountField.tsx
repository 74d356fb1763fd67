'use client'
import { Text } from '@chakra-ui/react'
import { type CSSProperties, useId, useState } from 'react'
import { formatAmount } from '@/core/shared/money'
import { readTyped } from '@/core/shared/typedAmount'

/**
 * An amount of a currency, typed by anybody's habit. What is read is shown when the field is left; what can
 * not be read is said below it, and told as null.
 *
 * @param units minor units; undefined for nothing
 * @param change takes minor units, undefined for an empty field, null for what is no amount
 */
export function AmountField({
  label,
  units,
  currency,
  change,
  name,
  placeholder,
  style,
}: {
  label?: string
  units: number | undefined
  currency: string
  change?: (units: number | undefined | null) => void
  /** its name in a form: the amount goes with it as it was read */
  name?: string
  placeholder?: string
  style?: CSSProperties
}) {
  const written = units === undefined ? '' : formatAmount(units, currency)
  const [text, setText] = useState(written)
  const problemId = useId()
  const read = text.trim() === '' ? undefined : readTyped(text, currency)
  const problem = read && 'problem' in read ? read.problem : null
  return (
    <span>
      <input
        className="field"
        style={{ width: 100, ...style }}
        inputMode="decimal"
        aria-label={label}
        aria-invalid={problem !== null}
        aria-describedby={problem ? problemId : undefined}
        placeholder={placeholder}
        ref={field => field?.setCustomValidity(problem ?? '')}
        value={text}
        onChange={event => {
          const typed = event.target.value
          setText(typed)
          const now = typed.trim() === '' ? undefined : readTyped(typed, currency)
          change?.(now && ('problem' in now ? null : now.amount))
        }}
        onBlur={() => read && 'amount' in read && setText(formatAmount(read.amount, currency))}
      />{' '}
      {name && (
        <input
          type="hidden"
          name={name}
          value={read && 'amount' in read ? formatAmount(read.amount, currency) : text}
        />
      )}
      {currency}
      {problem && (
        <Text as="span" id={problemId} display="block" color="alarm" fontSize="12px" role="alert">
          {problem}
        </Text>
      )}
    </span>
  )
}
