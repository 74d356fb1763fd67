import { Button, Flex, Input, Text } from '@chakra-ui/react'
import dynamic from 'next/dynamic'
import type { Ref } from 'react'
import { useFormats } from '../../format'
import { SelectField } from '../Fields'
import { Later } from '../Later'
import { saveFile } from '../saveFile'
import { cellsOf, headingOf } from './columns'
import type { TableProps, TableState } from './useTable'

const ColumnsMenu = dynamic(() => import('./ColumnsMenu').then(m => m.ColumnsMenu), { ssr: false })

const fileWords = (words: readonly string[]) =>
  words
    .map(word => word.toLowerCase().replace(/[^\p{L}\p{N}]+/gu, '-'))
    .filter(Boolean)
    .join('_')
/** What the address says of what is shown: its period, network and result, by which a file is told from others. */
const saidIn = (query: string): string[] => {
  const address = new URLSearchParams(query)
  return ['from', 'to', 'network', 'result', 'by'].flatMap(key => address.get(key) ?? [])
}

/** What stands above a table: its filters, how many rows there are, its columns, and its rows as a file. */
export function TableBar<Row>({
  of: {
    label,
    columns,
    rows,
    name,
    main,
    bar,
    belowWords,
    still,
    ofRow = [],
    filterLabel = 'Filter by words',
  },
  state,
  tools,
  filterField,
}: {
  of: TableProps<Row>
  state: TableState<Row>
  tools: boolean
  filterField: Ref<HTMLInputElement>
}) {
  const { count, currency } = useFormats()
  const { table, shown, shownRows, found, filter, picked } = state
  const picking = columns.filter(c => c.pick)
  const all = found === null ? shownRows.length : state.all
  const save = async () => {
    const { default: Papa } = await import('papaparse')
    const kept = shownRows.filter(row => !row.getIsGrouped()).map(row => row.original)
    const text = Papa.unparse(cellsOf([...ofRow, ...shown.filter(c => c.heading !== '')], kept, currency))
    saveFile(`${fileWords([label, ...saidIn(window.location.search)])}.csv`, text, 'text/csv')
  }
  return (
    <Flex gap="2" align="center" wrap="wrap" py="2" fontSize="13px" className="no-print">
      {tools && (
        <Input
          ref={filterField}
          width="220px"
          aria-label={filterLabel}
          placeholder={main ? `${filterLabel}  /` : filterLabel}
          value={filter}
          onChange={event => state.setFilter(event.target.value)}
        />
      )}
      {picking.map(c => (
        <SelectField
          key={c.id}
          label={headingOf(c)}
          unseen
          value={picked[c.id] ?? ''}
          change={value => state.pick(c.id, value)}
          choices={[
            ['', `any ${headingOf(c)}`],
            ...[...new Set(rows.map(row => String(c.value(row) ?? '')))]
              .filter(Boolean)
              .sort()
              .map(value => [value, value] as const),
          ]}
        />
      ))}
      {picking.length > 0 && (
        <SelectField
          label="Grouped by"
          unseen
          value={state.groupedBy}
          change={state.group}
          choices={[['', 'not grouped'], ...picking.map(c => [c.id, `by ${headingOf(c)}`] as const)]}
        />
      )}
      {bar}
      {belowWords && (
        <Button onClick={() => table.toggleAllRowsExpanded()}>
          {belowWords[table.getIsAllRowsExpanded() ? 1 : 0]}
        </Button>
      )}
      {tools && (
        <>
          <Text color="quiet" aria-live="polite">
            {found !== null && `${count(found)} of `}
            {count(all)} {all === 1 ? 'row' : 'rows'}
            {still && `; ${still}`}
          </Text>
          <Flex ml="auto" gap="2">
            {name && (
              <Later
                words="Columns"
                Part={ColumnsMenu}
                columns={columns}
                layout={state.layout}
                set={state.setLayout}
                shared={state.sharedAddress}
              />
            )}
            <Button onClick={() => void save()}>CSV of what is shown</Button>
          </Flex>
        </>
      )}
    </Flex>
  )
}
