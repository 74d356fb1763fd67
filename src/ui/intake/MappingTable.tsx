import { Box, Flex, Input, Table, Text } from '@chakra-ui/react'
import { dateOrders, decimalMarks } from '@/core/intake/reports/cells'
import {
  fieldNames,
  levelOf,
  type ReportField,
  type ReportMapping,
  reportFields,
} from '@/core/intake/reports/mapping'
import type { ReportLook } from '@/server/import/report'
import { SelectField } from '../parts/Fields'
import { dateOrderWords, decimalWords, levelWords, usedColumns } from './reportWords'

const SHOWN_ROWS = 8

/** The first rows of a report, above each column what it is taken for. */
export function MappingTable({
  look,
  mapping,
  doubts,
  correct,
}: {
  look: ReportLook
  doubts: ReportLook['doubts']
  mapping: ReportMapping
  correct: (change: Partial<ReportMapping>) => void
}) {
  const fieldOf = (heading: string) => fieldNames.find(field => mapping.columns[field] === heading) ?? ''
  const pick = (heading: string, field: string) => {
    const rest = Object.entries(mapping.columns).filter(([f, h]) => h !== heading && f !== field)
    correct({ columns: Object.fromEntries(field ? [...rest, [field, heading]] : rest) })
  }
  return (
    <Box as="section" aria-label="Columns">
      <Text fontSize="13px" color="quiet" mb="1">
        {levelWords(levelOf(mapping))} {usedColumns(mapping)} of {look.header.length} columns are used.
      </Text>
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
              {look.header.map(heading => {
                const field = fieldOf(heading)
                return (
                  <th
                    key={heading}
                    scope="col"
                    style={{ textAlign: 'left', verticalAlign: 'bottom', paddingRight: 8 }}
                  >
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
                      change={chosen => pick(heading, chosen)}
                      choices={[
                        ['', 'not used'],
                        ...fieldNames.map(name => [name, reportFields[name as ReportField]] as const),
                      ]}
                    />
                  </th>
                )
              })}
            </tr>
          </thead>
          <tbody>
            {look.rows.slice(0, SHOWN_ROWS).map((row, i) => (
              <tr key={i}>
                {look.header.map((heading, c) => (
                  <td
                    key={heading}
                    style={{
                      textAlign: 'left',
                      maxWidth: 148,
                      overflow: 'hidden',
                      textOverflow: 'ellipsis',
                      opacity: fieldOf(heading) ? 1 : 0.62,
                    }}
                  >
                    {row[c]}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </Table.Root>
      </Box>
      <Flex gap="4" mt="3" fontSize="13px" wrap="wrap" align="center">
        <SelectField
          beside
          width="auto"
          label="Dates are"
          value={mapping.date_order}
          change={chosen => correct({ date_order: dateOrders.find(o => o === chosen) ?? mapping.date_order })}
          choices={dateOrders.map(order => [order, dateOrderWords[order]])}
        />
        <SelectField
          beside
          width="auto"
          label="Decimals by"
          value={mapping.decimal}
          change={chosen => correct({ decimal: decimalMarks.find(m => m === chosen) ?? mapping.decimal })}
          choices={decimalMarks.map(mark => [mark, decimalWords[mark]])}
        />
        <Typed
          label="Amounts in"
          value={mapping.currency}
          width={4}
          keep={text => correct({ currency: text.toUpperCase() })}
        />
        <Typed
          label="Its days in zone"
          value={mapping.time_zone}
          width={16}
          keep={time_zone => correct({ time_zone })}
        />
        {!mapping.columns.conversion && (
          <Typed
            label="A conversion is a"
            value={mapping.conversion}
            width={12}
            keep={conversion => correct({ conversion })}
          />
        )}
      </Flex>
      {doubts.includes('date_order') && (
        <Text fontSize="13px" color="network" mt="1">
          Its first dates could be read in more than one order: check that the days below are right.
        </Text>
      )}
    </Box>
  )
}

function Typed({
  label,
  value,
  width,
  keep,
}: {
  label: string
  value: string
  width: number
  keep: (text: string) => void
}) {
  return (
    <label>
      {label}{' '}
      <Input width="auto" htmlSize={width} value={value} onChange={event => keep(event.target.value)} />
    </label>
  )
}
