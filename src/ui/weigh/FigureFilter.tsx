'use client'
import { Button, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { NumberField, SelectField } from '../parts/Fields'
import { Popped } from '../parts/Popped'
import { type Column, headingOf } from '../parts/table/columns'
import { type Condition, writeConditions } from './filters'
import type { WeighRow } from './weighFacts'

const MOST = 4

/** Chooses rows by their figures: some columns, each at least or at most so much. */
export function FigureFilter({
  words,
  conditions: given,
  set,
  columns,
}: {
  words: string
  conditions: readonly Condition[]
  set: (text: string) => void
  columns: readonly Column<WeighRow>[]
}) {
  const [conditions, change] = useState<Condition[]>(
    given.length > 0 ? [...given] : [{ figure: 'spend', than: 'least', value: 100 }],
  )
  const [open, setOpen] = useState(true)
  const put = (i: number, part: Partial<Condition>) =>
    change(conditions.map((one, at) => (at === i ? { ...one, ...part } : one)))
  const unitOf = (figure: string) => {
    const as = columns.find(one => one.id === figure)?.as
    return as === 'share' ? '%' : ''
  }
  return (
    <Popped words={words} label="Rows by their figures" open={open} setOpen={setOpen} width="420px">
      {conditions.map((condition, i) => (
        <Flex key={i} gap="2" align="center" mb="2" fontSize="13px">
          <SelectField
            unseen
            label={`Figure ${i + 1}`}
            value={condition.figure}
            change={figure => put(i, { figure })}
            choices={columns.map(column => [column.id, headingOf(column)] as const)}
          />
          <SelectField
            unseen
            label={`Least or most ${i + 1}`}
            value={condition.than}
            change={than => put(i, { than: than === 'most' ? 'most' : 'least' })}
            choices={[
              ['least', 'at least'],
              ['most', 'at most'],
            ]}
          />
          <NumberField
            unseen
            label={`How much ${i + 1}`}
            value={condition.value}
            step={0.01}
            unit={unitOf(condition.figure)}
            width="84px"
            change={value => put(i, { value: value ?? 0 })}
          />
          <Button
            aria-label={`Without condition ${i + 1}`}
            onClick={() => change(conditions.filter((_, at) => at !== i))}
          >
            ×
          </Button>
        </Flex>
      ))}
      <Flex gap="2" mt="3">
        <Button
          variant="solid"
          onClick={() => {
            set(writeConditions(conditions))
            setOpen(false)
          }}
        >
          Show these rows
        </Button>
        <Button
          disabled={conditions.length >= MOST}
          onClick={() => change([...conditions, { figure: 'cost', than: 'most', value: 50 }])}
        >
          And …
        </Button>
        {given.length > 0 && (
          <Button
            onClick={() => {
              set('')
              setOpen(false)
            }}
          >
            Any figures
          </Button>
        )}
      </Flex>
      <Text color="quiet" fontSize="12px" mt="2">
        A row without the figure is left out. What fits stands in the address.
      </Text>
    </Popped>
  )
}
