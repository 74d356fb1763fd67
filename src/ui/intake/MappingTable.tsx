import { Box, Flex, Input, Text } from '@chakra-ui/react'
import { dateOrders, decimalMarks } from '@/core/intake/reports/cells'
import { levelOf, type ReportMapping, reportFields } from '@/core/intake/reports/mapping'
import type { ReportLook } from '@/server/import/report'
import { SelectField } from '../parts/Fields'
import { ColumnsTable } from './ColumnsTable'
import { dateOrderWords, decimalWords, levelWords, usedColumns } from './reportWords'

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
  return (
    <Box as="section" aria-label="Columns">
      <Text fontSize="13px" color="quiet" mb="1">
        {levelWords(levelOf(mapping))} {usedColumns(mapping)} of {look.header.length} columns are used.
      </Text>
      <ColumnsTable
        header={look.header}
        rows={look.rows}
        fields={reportFields}
        columns={mapping.columns}
        pick={columns => correct({ columns })}
      />
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
