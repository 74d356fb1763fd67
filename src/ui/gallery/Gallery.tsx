'use client'
import { Box, Button, Flex, Heading, Kbd, Progress } from '@chakra-ui/react'
import { type ReactNode, useState } from 'react'
import * as z from 'zod'
import { Balance } from '../evidence/Balance'
import { GradeMark } from '../evidence/texture'
import { AmountField } from '../parts/AmountField'
import { AskButton } from '../parts/AskButton'
import { CheckField } from '../parts/CheckField'
import { Code, CopyButton } from '../parts/Code'
import { DayField } from '../parts/DayField'
import { EmptyState } from '../parts/EmptyState'
import { LongTextField, NumberField, SelectField, TextField } from '../parts/Fields'
import { FileButton } from '../parts/FileButton'
import { FormPanel } from '../parts/FormPanel'
import { Note, Page, Said, Section } from '../parts/Page'
import { PeriodPicker } from '../parts/PeriodPicker'
import { MarkBox, PlainButton } from '../parts/Plain'
import { DataTable } from '../parts/table/DataTable'
import { undoable } from '../parts/undo'
import { Mono, WordLink } from '../parts/WordLink'

const LONG = 'Herbstaktion für Webrahmen, Spindeln und handgefärbte Wolle aus dem Sortiment_2026-10 '.repeat(
  3,
)
const ARABIC = 'نول يدوي من خشب البلوط'
const rows = [
  { id: 'a', name: 'Autumn kits', spend: 938322, orders: 221.6 },
  { id: 'b', name: LONG, spend: 0, orders: null },
  { id: 'c', name: ARABIC, spend: 12, orders: 0 },
]
const schema = z.object({
  name: z.string().min(1),
  kind: z.enum(['lead', 'call']),
  worth: z.number().min(100).optional(),
})

/** Every part in each of its states, to be looked at when one changes. */
export function Gallery() {
  const [text, setText] = useState('Pattern booklet')
  const [number, setNumber] = useState<number | undefined>(30)
  const [amount, setAmount] = useState<number | undefined>(1200)
  const [on, setOn] = useState(true)
  const [days, setDays] = useState({ from: '2026-10-01', to: '2026-10-28' })
  const choices = [
    ['lead', 'lead'],
    ['call', 'phone call'],
    ['long', LONG],
  ] as const
  return (
    <Page
      says={
        <>
          Every part in each state: <WordLink href="/gallery">a figure that is a link</WordLink>, and words
          beside it.
        </>
      }
      actions={
        <>
          <Button>Does something</Button>
          <Button variant="solid">The next thing</Button>
          <Button disabled>Not now</Button>
          <Button aria-pressed fontWeight="700">
            Chosen
          </Button>
          <Button variant="plain">among words</Button>
          <Button>
            With a key <Kbd>u</Kbd>
          </Button>
          <AskButton asks="Three rows are thrown away for good." act={() => {}}>
            Throw away
          </AskButton>
          <CopyButton text="copied" />
          <FileButton label="A file" accept=".csv" take={() => {}}>
            Choose a file
          </FileButton>
          <Button onClick={() => undoable('Something was taken away.', () => setText('It is back'))}>
            Take something away
          </Button>
        </>
      }
      beside={
        <FormPanel
          title="A form"
          schema={schema}
          given={{ name: '', kind: 'lead', worth: undefined }}
          keepWords="Keep it"
          save={async ({ name }) => (name === 'taken' ? 'This name is taken.' : null)}
          close={() => {}}
        >
          {() => (
            <>
              <TextField label="Name" name="name" help="“taken” is refused by the server" />
              <SelectField label="Kind" name="kind" choices={choices} />
              <AmountField label="Worth, at least 1.00" name="worth" currency="EUR" />
            </>
          )}
        </FormPanel>
      }
    >
      <Shown title="Fields">
        <Flex gap="4" wrap="wrap" align="start">
          <TextField label="Text" width="200px" value={text} change={setText} />
          <TextField
            label="Text that is wrong"
            width="200px"
            value={text}
            change={setText}
            problem="This is not written as it should be."
          />
          <TextField label="Closed" width="200px" value={text} change={setText} disabled />
          <TextField label="Right to left" width="200px" value={ARABIC} change={() => {}} />
          <TextField mono label="Code" width="200px" value="https://tarnbrook.example" change={() => {}} />
          <LongTextField label="Long text" width="260px" value={LONG} change={() => {}} />
          <NumberField label="Number" value={number} change={setNumber} unit="days" />
          <AmountField label="Amount" value={amount} change={setAmount} currency="EUR" />
          <SelectField
            label="Choice"
            width="160px"
            value="lead"
            change={() => {}}
            choices={[...choices, { heading: 'Others', choices: [['other', 'something else']] }]}
          />
          <CheckField label="On" value={on} change={setOn} />
          <CheckField label="Off, and closed" value={false} change={() => {}} disabled />
          <DayField label="Day" value={days.from} change={from => setDays({ ...days, from })} />
          <PeriodPicker days={days} span={null} change={setDays} />
          <MarkBox name="some" marks="some" mark={() => {}} />
          <PlainButton className="figure">a figure</PlainButton>
        </Flex>
      </Shown>
      <Shown title="Table">
        <DataTable
          label="Campaigns"
          name="gallery"
          columns={[
            { id: 'name', heading: 'campaign', words: true, wraps: true, width: 260, value: r => r.name },
            {
              id: 'spend',
              heading: 'spend, EUR',
              value: r => r.spend,
              cell: r => (r.spend / 100).toFixed(2),
            },
            { id: 'orders', value: r => r.orders, cell: r => r.orders ?? '—' },
          ]}
          rows={rows}
          rowId={r => r.id}
          below={r => (r.id === 'a' ? [{ ...r, id: 'aa', name: 'Oak & wool' }] : undefined)}
          total={{ id: 'all', name: 'Sum', spend: 938334, orders: 221.6 }}
          strong={r => r.id === 'a'}
          quiet={r => r.id === 'b'}
          act={marked => <Button size="xs">Do something with {marked.length}</Button>}
          tools
        />
        <DataTable
          label="Nothing in it"
          columns={[{ id: 'name', words: true, value: (r: { id: string }) => r.id }]}
          rows={[]}
          rowId={r => r.id}
        />
      </Shown>
      <Shown title="Words and marks">
        <Note>A remark.</Note>
        <Note alarm>Something is wrong, and what to do.</Note>
        <Said busy="Working …" />
        <Said>Done.</Said>
        <Flex gap="4">
          <GradeMark grade="proven" />
          <GradeMark grade="tagged" />
          <GradeMark grade="claimed" side="network" />
          <GradeMark grade="unplaced" />
          <Mono>nf-7c41e09a</Mono>
        </Flex>
        <Balance
          claimsAlone={7}
          both={54}
          ordersAlone={39}
          most={93}
          height="34px"
          label="61 claims, 93 orders"
        />
        <Progress.Root value={40} size="xs" mt="3" aria-label="Rows taken in">
          <Progress.Track>
            <Progress.Range />
          </Progress.Track>
        </Progress.Root>
        <Code text={`<script async src="https://t.tarnbrook.example/aq.js"></script>\n${LONG}`} />
        <EmptyState next={{ words: 'Take in the first file', href: '/intake/import' }}>
          Here each campaign will show what one result cost: “Oak & wool: 41 orders, 38.20 EUR each”.
        </EmptyState>
      </Shown>
    </Page>
  )
}

const Shown = ({ title, children }: { title: string; children: ReactNode }) => (
  <Box mb="6">
    <Section
      label={title}
      title={
        <Heading as="span" fontSize="16px" fontWeight="650">
          {title}
        </Heading>
      }
    >
      {children}
    </Section>
  </Box>
)
