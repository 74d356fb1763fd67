import { Box, Flex, Text } from '@chakra-ui/react'
import { type AddressCondition, comparisons } from '@/core/signals/addressMatcher'
import { comparisonWords } from './ruleWords'

/** Conditions on an address; an empty row more than there are adds one. */
export function Conditions({
  label,
  list,
  keep,
}: {
  label: string
  list: AddressCondition[]
  keep: (list: AddressCondition[]) => void
}) {
  const rows: AddressCondition[] = list.at(-1)?.text === '' ? list : [...list, { by: 'equals', text: '' }]
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
          <select
            className="field"
            aria-label={`${label}, comparison ${i + 1}`}
            value={row.by}
            onChange={e => change(i, { by: comparisons.find(c => c === e.target.value) ?? row.by })}
          >
            {comparisons.map(by => (
              <option key={by} value={by}>
                {comparisonWords[by]}
              </option>
            ))}
          </select>
          <input
            className="field"
            style={{ flex: 1 }}
            aria-label={`${label}, text ${i + 1}`}
            placeholder={i === 0 ? '/thanks' : 'or'}
            value={row.text}
            onChange={e => change(i, { text: e.target.value })}
          />
        </Flex>
      ))}
    </Box>
  )
}
