import { Box, Flex, Text } from '@chakra-ui/react'
import { type AddressCondition, comparisons } from '@/core/signals/addressMatcher'
import { SelectField, TextField } from '../parts/Fields'
import { comparisonWords } from './ruleWords'

/** Conditions on an address; an empty row more than there are adds one. */
export function Conditions({
  label,
  list,
  keep,
}: {
  label: string
  list: readonly AddressCondition[]
  keep: (list: AddressCondition[]) => void
}) {
  const rows: AddressCondition[] =
    list.at(-1)?.text === '' ? [...list] : [...list, { by: 'equals', text: '' }]
  const change = (at: number, some: Partial<AddressCondition>) =>
    keep(
      rows
        .map((row, i) => (i === at ? { ...row, ...some } : row))
        .filter((row, i) => row.text !== '' || i === rows.length - 1),
    )
  return (
    <Box mt="3">
      <Text fontWeight="650">{label}</Text>
      {rows.map((row, i) => (
        <Flex key={i} gap="2" mt="1">
          <SelectField
            unseen
            label={`${label}, comparison ${i + 1}`}
            value={row.by}
            change={by => change(i, { by: comparisons.find(c => c === by) ?? row.by })}
            choices={comparisons.map(by => [by, comparisonWords[by]])}
          />
          <TextField
            unseen
            width="100%"
            label={`${label}, text ${i + 1}`}
            placeholder={i === 0 ? '/thanks' : 'or'}
            value={row.text}
            change={text => change(i, { text })}
          />
        </Flex>
      ))}
    </Box>
  )
}
