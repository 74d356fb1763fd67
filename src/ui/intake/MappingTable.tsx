import { Box, Text } from '@chakra-ui/react'
import type { HowRead, ReadAs } from '@/core/intake/readAs'
import { levelOf, type ReportMapping } from '@/core/intake/reports/mapping'
import { covers } from '@/core/intake/reports/span'
import type { ReportLook } from '@/server/import/report'
import { SelectField, TextField } from '../parts/Fields'
import { ColumnsTable } from './ColumnsTable'
import { columnChoices } from './columnChoices'
import { coversWords, levelWords, usedColumns } from './reportWords'
import { WrittenAs } from './WrittenAs'

/** The first rows of a report, above each column what it is taken for. */
export function MappingTable({
  look,
  mapping,
  doubts,
  correct,
  readAs,
}: {
  look: ReportLook & { how: HowRead }
  doubts: ReportLook['doubts']
  mapping: ReportMapping
  correct: (change: Partial<ReportMapping>) => void
  readAs: (change: Partial<ReadAs>) => void
}) {
  return (
    <Box as="section" aria-label="Columns">
      <Text fontSize="13px" color="quiet" mb="1">
        {levelWords(levelOf(mapping), mapping)} {usedColumns(mapping)} of {look.header.length} columns are
        used.
      </Text>
      <ColumnsTable header={look.header} rows={look.rows} of={columnChoices(mapping, correct)} />
      <WrittenAs forms={mapping} correct={correct} how={look.how} readAs={readAs}>
        {!mapping.columns.date_to && (
          <SelectField
            beside
            width="auto"
            label="A date is for"
            value={mapping.covers}
            change={chosen => correct({ covers: covers.find(one => one === chosen) ?? 'day' })}
            choices={covers.map(one => [one, coversWords[one]] as const)}
          />
        )}
        {!mapping.columns.conversion && (
          <TextField
            beside
            width="auto"
            label={
              mapping.further.length > 0 && mapping.columns.click_through
                ? `“${mapping.columns.click_through}” is a`
                : 'A conversion is a'
            }
            value={mapping.conversion}
            change={conversion => correct({ conversion })}
            input={{ htmlSize: 12 }}
          />
        )}
        {mapping.further.map((one, i) => (
          <TextField
            key={i}
            beside
            width="auto"
            label={`“${one.click_through ?? one.view_through ?? one.value}” is a`}
            value={one.conversion}
            change={conversion =>
              correct({
                further: mapping.further.map((own, at) => (at === i ? { ...own, conversion } : own)),
              })
            }
            input={{ htmlSize: 12 }}
          />
        ))}
      </WrittenAs>
      {doubts.includes('covers') && (
        <Text fontSize="13px" color="network" mt="1">
          Its dates are {mapping.covers === 'month' ? 'months' : 'weeks'} apart, so each is taken as the first
          day of {mapping.covers === 'month' ? 'a month' : 'a week'}. Choose “that day” if each line is one
          day.
        </Text>
      )}
      {doubts.includes('date_order') && (
        <Text fontSize="13px" color="network" mt="1">
          Its first dates could be read in more than one order: check that the days below are right.
        </Text>
      )}
    </Box>
  )
}
