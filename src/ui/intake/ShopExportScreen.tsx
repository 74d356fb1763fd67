'use client'
import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { FOUND_OUT, type HowRead, type ReadAs } from '@/core/intake/readAs'
import { orderStatuses } from '@/core/intake/records'
import { unusedThatMatter } from '@/core/intake/shopExport/cells'
import { exportFields, plain } from '@/core/intake/shopExport/fields'
import { type ExportDoubt, guessForms, statusWordsIn } from '@/core/intake/shopExport/guess'
import {
  type ExportGap,
  type ExportKind,
  type ExportMapping,
  type ExportProblem,
  exportGapsOf,
  exportKinds,
  exportProblems,
} from '@/core/intake/shopExport/mapping'
import type { ExportDifference, ExportLook } from '@/server/import/shopExport'
import { useFormats } from '../format'
import { SelectField, TextField } from '../parts/Fields'
import { FileButton, takesDroppedFiles } from '../parts/FileButton'
import { Note, Page } from '../parts/Page'
import { WordLink } from '../parts/WordLink'
import { ColumnsTable, oneColumnEach } from './ColumnsTable'
import { ExportDifferences, statusChoices } from './ExportDifferences'
import type { GiveRates } from './MissingRates'
import { NextFile } from './NextFile'
import { offerUndo, type UndoImport } from './offerUndo'
import { useFileSteps } from './useFileSteps'
import { Working } from './Working'
import { WrittenAs } from './WrittenAs'
import { useComing, wait } from './waitingFiles'

const lacks = {
  order_id: 'No column is the order’s number: pick the one that is.',
  ordered_at: 'No column is the day of the order: pick the one that is.',
  total: 'No column is the total, with tax or without: pick the one that is.',
  refunded: 'No column is what went back: pick the one that is.',
  email: 'No column is the e-mail, by which customers are told to be one: pick the one that is.',
} as const
const doubtWords: Record<ExportDoubt, string> = {
  date_order: 'Its first days could be read in more than one order of day and month: check them.',
  decimal: 'Its amounts could be read with a point or a comma for fractions: check them.',
  currency: 'It does not say its currency: check it.',
  amounts:
    'Lines that share an order’s number say the same amount: say whether it is the order’s or each item’s.',
}

const gapWords: Record<ExportGap, string> = {
  status: 'No status column: cancelled and test orders will count as orders.',
  refunds: 'No refunds column: refunds that are already stored stay. Import a file of refunds beside it.',
  origin:
    'No landing page, UTM or click ID column: only a visitor seen by the Aequant tag ties an order to an ad.',
}

const unusedWords = { amount: 'amounts', address: 'addresses or parameters', email: 'e-mails' }

const kindWords: Record<ExportKind, string> = {
  orders: 'orders, or their items',
  refunds: 'what went back of orders',
  customers: 'customers',
}
/** What was taken in, in words. */
const takenWords = (holds: ExportKind, accepted: number, count: (of: number) => string) =>
  holds === 'customers'
    ? `${count(accepted)} known to be one`
    : `${count(accepted)} ${accepted === 1 ? 'order' : 'orders'} ${holds === 'refunds' ? 'settled' : 'in'}`

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
export function ShopExportScreen({
  countIn,
  giveRates,
  undo,
}: {
  countIn: (currency: string) => Promise<string | null>
  giveRates: GiveRates
  undo: UndoImport
}) {
  const { count } = useFormats()
  const [file, setFile] = useState<File | null>(null)
  const [look, setLook] = useState<(ExportLook & { how: HowRead }) | null>(null)
  const [asked, setAsked] = useState(FOUND_OUT)
  const [mapping, setMapping] = useState<ExportMapping | null>(null)
  const [doubts, setDoubts] = useState<readonly ExportDoubt[]>([])
  const [difference, setDifference] = useState<ExportDifference | null>(null)
  const [taken, setTaken] = useState<{
    accepted: number
    rejected: number
    cancelled: boolean
    batch: string | null
  } | null>(null)
  const { send, busy, setBusy, problem, setProblem, progress, stop } = useFileSteps(
    step => `/api/shop-export/${step}`,
  )

  async function choose(chosen: File, as: ReadAs = FOUND_OUT) {
    setFile(chosen)
    setDifference(null)
    setTaken(null)
    const seen = await send<NonNullable<typeof look>>('look', chosen, `Reading ${chosen.name}`, null, as)
    setAsked(as)
    setLook(seen)
    setMapping(seen?.mapping ?? null)
    setDoubts(seen?.doubts ?? [])
  }
  const chooseAll = (first: File, more: File[]) => {
    wait(more.map(one => ({ file: one, place: { to: 'shop' } })))
    setReady(false)
    void choose(first)
  }
  const [ready, setReady] = useState(true)
  useComing('shop', ready, coming => {
    setReady(false)
    void choose(coming.file)
  })
  async function take() {
    const outcome = await send<NonNullable<typeof taken>>(
      'take',
      file!,
      `Importing ${file!.name}`,
      mapping,
      asked,
    )
    setTaken(outcome)
    offerUndo(outcome?.batch, file!.name, undo, () => setTaken(null))
  }
  const compare = async () =>
    setDifference(await send('compare', file!, 'Comparing with what is held', mapping, asked))
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
  const unused = look && mapping ? unusedThatMatter(look, mapping.columns) : []
  const problems = look && mapping ? exportProblems(mapping, look.header, words) : []
  return (
    <Page
      at="/intake/shop"
      drop={takesDroppedFiles(chooseAll)}
      says={
        look && file
          ? `${file.name}: ${look.saved ? 'read as the shop’s last export was.' : 'this is how it seems to be meant. Correct what is wrong; it is kept for next time.'}`
          : 'Drop the shop’s own export of orders here, whatever its columns are called. You see what it changes before anything does.'
      }
      actions={
        <FileButton
          strong={!look}
          label="Export of the shop"
          accept=".csv,.tsv,.txt,.xlsx,.json,.jsonl,.ndjson,text/csv"
          disabled={busy !== ''}
          take={chooseAll}
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
          A line may be an order or one of its items; a line below nothing is what went back. CSV of any kind,
          XLSX and JSON are read; refunds and customers may come in files of their own. What each column is,
          is guessed from its heading and its cells, and shown before it counts.
        </Note>
      )}
      {look && mapping && (
        <Box as="section" aria-label="Columns">
          <ColumnsTable
            header={look.header}
            rows={look.rows}
            of={oneColumnEach(exportFields, mapping.columns, columns => correct({ columns }))}
          />
          <WrittenAs
            forms={mapping}
            how={look.how}
            readAs={change => file && void choose(file, { ...asked, ...change })}
            correct={change => correct(change, Object.keys(change)[0] as ExportDoubt | undefined)}
          >
            <SelectField
              beside
              width="auto"
              label="It holds"
              value={mapping.holds}
              change={chosen => correct({ holds: exportKinds.find(kind => kind === chosen) ?? 'orders' })}
              choices={exportKinds.map(kind => [kind, kindWords[kind]])}
            />
            {mapping.holds === 'orders' && (
              <TextField
                beside
                width="auto"
                label="Tests are orders with"
                placeholder="a word or e-mail"
                value={mapping.tests}
                change={tests => correct({ tests })}
                input={{ htmlSize: 14 }}
              />
            )}
            {mapping.holds === 'orders' && (
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
            )}
          </WrittenAs>
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
          {mapping.holds === 'orders' && unused.length > 0 && (
            <Text fontSize="13px" color="network" mt="1">
              Not used, though {unused.length === 1 ? 'it looks' : 'they look'} as if{' '}
              {unused.length === 1 ? 'it' : 'they'} mattered:{' '}
              {unused.map(({ heading, holds }) => `“${heading}” (${unusedWords[holds]})`).join(', ')}.
            </Text>
          )}
          {exportGapsOf(mapping).map(gap => (
            <Text key={gap} fontSize="13px" color="quiet" mt="1">
              {gapWords[gap]}
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
              onClick={() => void compare()}
            >
              Show what it changes
            </Button>
          )}
        </Box>
      )}
      {difference && !taken && (
        <ExportDifferences
          difference={difference}
          busy={busy !== ''}
          take={take}
          giveRates={giveRates}
          again={() => void compare()}
          countIn={async of => {
            setBusy(`Counting in ${of}`)
            const wrong = await countIn(of)
            setBusy('')
            if (wrong) setProblem(wrong)
            else await compare()
          }}
        />
      )}
      {taken && (
        <Text mt="4" role="status">
          {taken.cancelled && 'Cancelled: '}
          {takenWords(mapping?.holds ?? 'orders', taken.accepted, count)}, {count(taken.rejected)} lines
          rejected. {taken.cancelled && 'Import it again to go on. '}
          <WordLink href={taken.rejected > 0 ? '/intake/set-aside' : '/reconcile'}>
            {taken.rejected > 0 ? 'See what was rejected' : 'See what it changes'}
          </WordLink>
        </Text>
      )}
      <NextFile go={() => setReady(true)} />
    </Page>
  )
}
