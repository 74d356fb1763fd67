'use client'
import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { useEffect, useState } from 'react'
import { orderStatuses } from '@/core/intake/records'
import { dateOrders, decimalMarks } from '@/core/intake/reports/cells'
import { exportFields, plain } from '@/core/intake/shopExport/fields'
import { type ExportDoubt, guessForms, statusWordsIn } from '@/core/intake/shopExport/guess'
import { type ExportMapping, type ExportProblem, exportProblems } from '@/core/intake/shopExport/mapping'
import type { ExportDifference, ExportLook } from '@/server/import/shopExport'
import { useFormats } from '../format'
import { SelectField, TextField } from '../parts/Fields'
import { FileButton, takesDroppedFile } from '../parts/FileButton'
import { Note, Page, Section } from '../parts/Page'
import { DataTable } from '../parts/table/DataTable'
import { WordLink } from '../parts/WordLink'
import { ColumnsTable } from './ColumnsTable'
import { takePassedFile } from './passedFile'
import { dateOrderWords, decimalWords } from './reportWords'
import { useFileSteps } from './useFileSteps'
import { Working } from './Working'

const lacks = {
  order_id: 'No column is the order’s number: pick the one that is.',
  ordered_at: 'No column is the day of the order: pick the one that is.',
  total: 'No column is the total, with tax or without: pick the one that is.',
} as const
const statusChoices = {
  paid: 'counts',
  refunded: 'refunded: does not count',
  partially_refunded: 'partly refunded: counts, less what went back',
  cancelled: 'cancelled or not paid: does not count',
  test: 'a test: does not count',
} satisfies Record<(typeof orderStatuses)[number], string>
const doubtWords: Record<ExportDoubt, string> = {
  date_order: 'Its first days could be read in more than one order of day and month: check them.',
  decimal: 'Its amounts could be read with a point or a comma for fractions: check them.',
  currency: 'It does not say its currency: check it.',
  amounts:
    'Lines that share an order’s number say the same amount: say whether it is the order’s or each item’s.',
}

function problemWords(problem: ExportProblem): string {
  switch (problem.code) {
    case 'not_mapped':
      return lacks[problem.field]
    case 'no_such_column':
      return `The export has no column “${problem.column}”, which was the ${exportFields[problem.field]} last time.`
    case 'column_twice':
      return `“${problem.column}” cannot be two things.`
    case 'status_unexplained':
      return `Say what the shop means by “${problem.word}”.`
  }
}

/** The shop's own export, whatever its columns are called: say which is which, see what it changes, take it in. */
export function ShopExportScreen({ countIn }: { countIn: (currency: string) => Promise<string | null> }) {
  const { count, day, currency } = useFormats()
  const [file, setFile] = useState<File | null>(null)
  const [look, setLook] = useState<ExportLook | null>(null)
  const [mapping, setMapping] = useState<ExportMapping | null>(null)
  const [doubts, setDoubts] = useState<readonly ExportDoubt[]>([])
  const [difference, setDifference] = useState<ExportDifference | null>(null)
  const [taken, setTaken] = useState<{ accepted: number; rejected: number; cancelled: boolean } | null>(null)
  const { send, busy, setBusy, problem, setProblem, progress, stop } = useFileSteps(
    step => `/api/shop-export/${step}`,
  )

  async function choose(chosen: File) {
    setFile(chosen)
    setDifference(null)
    setTaken(null)
    const seen = await send<ExportLook>('look', chosen, `Reading ${chosen.name}`)
    setLook(seen)
    setMapping(seen?.mapping ?? null)
    setDoubts(seen?.doubts ?? [])
  }
  useEffect(() => {
    const passed = takePassedFile()
    if (passed) void choose(passed)
    // Once, when the screen is opened.
  }, [])
  const correct = (change: Partial<ExportMapping>, settled?: ExportDoubt) => {
    if (!look || !mapping) return
    // Another column may write days and amounts in another way.
    const guess = change.columns && guessForms(look, change.columns, { ...mapping })
    setMapping({
      ...mapping,
      ...(guess && { ...guess.mapping, statuses: { ...guess.mapping.statuses, ...mapping.statuses } }),
      ...change,
    })
    setDoubts(guess?.doubts ?? doubts.filter(doubt => doubt !== settled))
    setDifference(null)
    setTaken(null)
  }
  const words = look && mapping ? statusWordsIn(look, mapping.columns) : []
  const problems = look && mapping ? exportProblems(mapping, look.header, words) : []
  return (
    <Page
      at="/intake/shop"
      drop={takesDroppedFile(chosen => void choose(chosen))}
      says={
        look && file
          ? `${file.name}: ${look.saved ? 'read as the shop’s last export was.' : 'this is how it seems to be meant. Correct what is wrong; it is kept for next time.'}`
          : 'Drop the shop’s own export of orders here, whatever its columns are called. You see what it changes before anything does.'
      }
      actions={
        <FileButton
          strong={!look}
          label="Export of the shop"
          accept=".csv,.tsv,.txt,.xlsx,text/csv"
          disabled={busy !== ''}
          take={chosen => void choose(chosen)}
        >
          Choose the export
        </FileButton>
      }
    >
      <Box minHeight="30px">
        {busy && <Working what={busy} progress={progress} stop={stop} />}
        {problem && <Note alarm>{problem}</Note>}
      </Box>
      {!look && (
        <Note>
          A line may be an order or one of its items; a line below nothing is what went back. CSV of any kind
          and XLSX are read. What each column is, is guessed from its heading and its cells, and shown before
          it counts.
        </Note>
      )}
      {look && mapping && (
        <Box as="section" aria-label="Columns">
          <ColumnsTable
            header={look.header}
            rows={look.rows}
            fields={exportFields}
            columns={mapping.columns}
            pick={columns => correct({ columns })}
          />
          <Flex gap="4" mt="3" fontSize="13px" wrap="wrap" align="center">
            <SelectField
              beside
              width="auto"
              label="Days are"
              value={mapping.date_order}
              change={chosen =>
                correct(
                  { date_order: dateOrders.find(o => o === chosen) ?? mapping.date_order },
                  'date_order',
                )
              }
              choices={dateOrders.map(order => [order, dateOrderWords[order]])}
            />
            <SelectField
              beside
              width="auto"
              label="Fractions after"
              value={mapping.decimal}
              change={chosen =>
                correct({ decimal: decimalMarks.find(m => m === chosen) ?? mapping.decimal }, 'decimal')
              }
              choices={decimalMarks.map(mark => [mark, decimalWords[mark]])}
            />
            <SelectField
              beside
              width="auto"
              label="A line’s amounts are of"
              value={mapping.amounts}
              change={chosen => correct({ amounts: chosen === 'line' ? 'line' : 'order' }, 'amounts')}
              choices={[
                ['order', 'the whole order'],
                ['line', 'one of its items'],
              ]}
            />
            <TextField
              beside
              width="auto"
              label="Currency"
              value={mapping.currency}
              change={text => correct({ currency: text.toUpperCase() }, 'currency')}
              input={{ htmlSize: 4 }}
            />
            <TextField
              beside
              width="auto"
              label="Times in zone"
              value={mapping.time_zone}
              change={time_zone => correct({ time_zone })}
              input={{ htmlSize: 16 }}
            />
          </Flex>
          {words.length > 0 && (
            <Flex gap="4" mt="2" fontSize="13px" wrap="wrap" align="center">
              {words.map(word => (
                <SelectField
                  key={word}
                  beside
                  width="auto"
                  label={`“${word}”`}
                  value={mapping.statuses[plain(word)] ?? ''}
                  change={chosen => {
                    const status = orderStatuses.find(one => one === chosen)
                    if (status) correct({ statuses: { ...mapping.statuses, [plain(word)]: status } })
                  }}
                  choices={[['', 'means …'], ...Object.entries(statusChoices)]}
                />
              ))}
            </Flex>
          )}
          {doubts.map(doubt => (
            <Text key={doubt} fontSize="13px" color="network" mt="1">
              {doubtWords[doubt]}
            </Text>
          ))}
          {problems.map(one => (
            <Text key={JSON.stringify(one)} color="alarm" fontSize="13px" mt="1">
              {problemWords(one)}
            </Text>
          ))}
          {!difference && !taken && (
            <Button
              mt="3"
              variant="solid"
              disabled={problems.length > 0 || busy !== '' || !file}
              onClick={async () =>
                setDifference(await send('compare', file!, 'Comparing with what is held', mapping))
              }
            >
              Show what it changes
            </Button>
          )}
        </Box>
      )}
      {difference && !taken && (
        <Section
          title={`${count(difference.orders)} ${difference.orders === 1 ? 'order' : 'orders'}${difference.first ? `, ${day(difference.first)} – ${day(difference.last!)}` : ''}: ${count(difference.fresh)} new, ${count(difference.changedCount)} changed, ${count(difference.orders - difference.fresh - difference.changedCount)} as they are`}
          label="What it changes"
        >
          <Note>
            {Object.entries(difference.statuses)
              .map(
                ([status, orders]) =>
                  `${count(orders)} ${statusChoices[status as keyof typeof statusChoices]}`,
              )
              .join('; ')}
            .
          </Note>
          {difference.sums.odd.length > 0 && (
            <Note alarm>
              In {count(difference.sums.odd.length)} of {count(difference.sums.compared)} orders the total is
              not what it is made of, first on line {difference.sums.odd[0]}: look whether the right columns
              are picked.
            </Note>
          )}
          {difference.rejectedCount > 0 && (
            <Note alarm>
              {count(difference.rejectedCount)} lines cannot be read, the first on line{' '}
              {difference.rejected[0]!.line}: {difference.rejected[0]!.column} “
              {difference.rejected[0]!.value ?? ''}”. They would be set aside.
            </Note>
          )}
          {difference.withoutRate.map(of => (
            <Flex key={of} gap="2" align="center" mt="2" fontSize="13px" wrap="wrap">
              <Text color="alarm">
                Orders in {of} could be in no sum: everything is counted in {currency}, and there is no rate.
              </Text>
              <Button
                onClick={async () => {
                  setBusy(`Counting in ${of}`)
                  const wrong = await countIn(of)
                  setBusy('')
                  if (wrong) setProblem(wrong)
                  else setDifference(await send('compare', file!, 'Comparing with what is held', mapping))
                }}
              >
                Count everything in {of}
              </Button>
              <WordLink href="/intake/import">Take in rates.csv</WordLink>
            </Flex>
          ))}
          {difference.changed.length > 0 && (
            <DataTable
              label="Orders that change"
              columns={[
                { id: 'order', words: true, value: o => o.id },
                { id: 'before', heading: 'as it is', words: true, value: o => o.before },
                { id: 'after', heading: 'as it would be', words: true, value: o => o.after },
              ]}
              rows={difference.changed}
              rowId={o => o.id}
            />
          )}
          <Button
            mt="3"
            variant="solid"
            disabled={busy !== '' || difference.orders === 0}
            onClick={async () => setTaken(await send('take', file!, 'Taking it in', mapping))}
          >
            Take in {count(difference.orders)} {difference.orders === 1 ? 'order' : 'orders'}
          </Button>
        </Section>
      )}
      {taken && (
        <Text mt="4" role="status">
          {taken.cancelled && 'Cancelled: '}
          {count(taken.accepted)} {taken.accepted === 1 ? 'order' : 'orders'} in, {count(taken.rejected)}{' '}
          lines rejected. {taken.cancelled && 'Take it in again to go on. '}
          <WordLink href={taken.rejected > 0 ? '/intake/set-aside' : '/reconcile'}>
            {taken.rejected > 0 ? 'See what was rejected' : 'See what it changes'}
          </WordLink>
        </Text>
      )}
    </Page>
  )
}
