import { Box, Table, Text } from '@chakra-ui/react'
import { SelectField } from '../parts/Fields'

const SHOWN_ROWS = 8

/** What each column of a file can be and is, and what somebody takes it for. */
export interface ColumnChoices {
  choices: readonly (readonly [value: string, says: string])[]
  /** empty for a column that is not used */
  fieldOf: (heading: string) => string
  choose: (heading: string, value: string) => void
}

/** The choices where each field is one column at most. */
export function oneColumnEach<Field extends string>(
  fields: Readonly<Record<Field, string>>,
  columns: Partial<Record<Field, string>>,
  pick: (columns: Partial<Record<Field, string>>) => void,
): ColumnChoices {
  const names = Object.keys(fields) as Field[]
  return {
    choices: names.map(name => [name, fields[name]]),
    fieldOf: heading => names.find(field => columns[field] === heading) ?? '',
    choose: (heading, field) => {
      const rest = Object.entries(columns).filter(([f, h]) => h !== heading && f !== field)
      pick(Object.fromEntries(field ? [...rest, [field, heading]] : rest) as Partial<Record<Field, string>>)
    },
  }
}

/** The first rows of a file of any columns, above each column what it is taken for. */
export function ColumnsTable({
  header,
  rows,
  of: { choices, fieldOf, choose },
}: {
  header: readonly string[]
  rows: readonly (readonly string[])[]
  of: ColumnChoices
}) {
  return (
    <Box
      overflowX="auto"
      borderTopWidth="1px"
      borderColor="hairline"
      tabIndex={0}
      role="region"
      aria-label="First rows"
    >
      <Table.Root width="auto">
        <thead>
          <tr>
            {header.map(heading => {
              const field = fieldOf(heading)
              return (
                <th key={heading} scope="col" data-words="">
                  <Text
                    fontFamily="mono"
                    fontSize="12px"
                    color={field ? 'ink' : 'quiet'}
                    title={heading}
                    maxWidth="148px"
                    truncate
                  >
                    {heading}
                  </Text>
                  <SelectField
                    unseen
                    width="148px"
                    label={`${heading} is`}
                    value={field}
                    change={chosen => choose(heading, chosen)}
                    choices={[['', 'not used'], ...choices]}
                  />
                </th>
              )
            })}
          </tr>
        </thead>
        <tbody>
          {rows.slice(0, SHOWN_ROWS).map((row, i) => (
            <tr key={i}>
              {header.map((heading, c) => (
                <td key={heading} data-words="" style={{ opacity: fieldOf(heading) ? 1 : 0.62 }}>
                  <Text truncate maxWidth="148px">
                    {row[c]}
                  </Text>
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </Table.Root>
    </Box>
  )
}
