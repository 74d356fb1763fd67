import { Box, Table, Text } from '@chakra-ui/react'
import { SelectField } from '../parts/Fields'

const SHOWN_ROWS = 8

/** The first rows of a file of any columns, above each column what it is taken for. */
export function ColumnsTable<Field extends string>({
  header,
  rows,
  fields,
  columns,
  pick,
}: {
  header: readonly string[]
  rows: readonly (readonly string[])[]
  /** what a column can be, each with what it says to a person */
  fields: Readonly<Record<Field, string>>
  /** the heading of each field */
  columns: Partial<Record<Field, string>>
  pick: (columns: Partial<Record<Field, string>>) => void
}) {
  const names = Object.keys(fields) as Field[]
  const fieldOf = (heading: string) => names.find(field => columns[field] === heading) ?? ''
  const choose = (heading: string, field: string) => {
    const rest = Object.entries(columns).filter(([f, h]) => h !== heading && f !== field)
    pick(Object.fromEntries(field ? [...rest, [field, heading]] : rest) as Partial<Record<Field, string>>)
  }
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
                    choices={[['', 'not used'], ...names.map(name => [name, fields[name]] as const)]}
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
