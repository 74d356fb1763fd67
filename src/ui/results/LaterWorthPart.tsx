'use client'
import { Box, Button, Text } from '@chakra-ui/react'
import { useState } from 'react'
import type { LaterWorth } from '@/core/signals/laterWorth'
import type { ValueRule } from '@/core/signals/result'
import { useFormats } from '../format'
import { SelectField } from '../parts/Fields'
import { useServer } from '../parts/useServer'

/** What those of whom a result came about later bought, which its worth can be. */
export function LaterWorthPart({
  result,
  currency,
  take,
}: {
  result: string
  currency: string
  /** makes it the result's worth */
  take: (value: ValueRule) => void
}) {
  const { money, count, percent } = useFormats()
  const [days, setDays] = useState('30')
  const { answer, problem } = useServer<LaterWorth | null>(
    `/api/results/later?result=${encodeURIComponent(result)}&days=${days}`,
  )
  return (
    <Box mt="3" p="2" bg="mark" fontSize="13px" aria-live="polite">
      <SelectField
        beside
        label="What they later bought within"
        value={days}
        change={setDays}
        choices={['14', '30', '60', '90'].map(one => [one, `${one} days`] as const)}
      />
      {problem && <Text color="alarm">It cannot be told: {problem}</Text>}
      {answer === null && !problem && (
        <Text mt="1">Nobody’s {days} days are over yet: it cannot be told what they later buy.</Text>
      )}
      {answer && (
        <>
          <Text mt="1">
            {money(Math.round(answer.mean), currency)} {currency} each (
            {money(Math.round(answer.low), currency)}–{money(Math.round(answer.high), currency)} four times in
            five): {percent(answer.buyers / answer.leads)} of {count(answer.leads)} bought something.
          </Text>
          <Button
            mt="2"
            onClick={() =>
              take({
                by: 'fixed',
                amount: Math.round(answer.mean),
                measured: {
                  low: Math.round(answer.low),
                  high: Math.round(answer.high),
                  days: answer.days,
                },
              })
            }
          >
            Let that be its worth
          </Button>
        </>
      )}
    </Box>
  )
}
