'use client'
import { Box, Button, Text } from '@chakra-ui/react'
import { useSearchParams } from 'next/navigation'
import { useState } from 'react'
import { type Day, formatDay, type Period } from '@/core/shared/days'
import { daysBefore } from '@/core/shared/periods'
import type { ComparedPart } from '@/core/weigh/compare'
import { comparisonSentence } from '@/core/weigh/comparisonSentence'
import type { ChangedView, Turn } from '@/server/compute/views/changed'
import { type Formats, UNKNOWN, useFormats } from '../format'
import { Note, Page, Said, Section } from '../parts/Page'
import { PeriodPicker } from '../parts/PeriodPicker'
import type { Column } from '../parts/table/columns'
import { DataTable } from '../parts/table/DataTable'
import { useServer } from '../parts/useServer'
import { WordLink } from '../parts/WordLink'
import { useNetworkName } from '../shell/NetworkNames'
import { keptQuery, useScope } from '../shell/useScope'
import { StandsOnNotes } from '../weigh/StandsOnNotes'
import { AsJson } from './AsJson'
import { ChangedChart } from './ChangedChart'
import { type ChangeMark, markWords } from './markWords'
import { PartsBridge } from './PartsBridge'
import { partWords } from './partWords'

type Whole = ChangedView['whole']
type Compared = ChangedView['parts'][number]['of']

const turnWords = { capture: 'Claims per order', real_cost: 'The real cost' } as const

/** Two periods side by side: what of a dearer result is the ads, and what is tracking alone. */
export function ChangedScreen({
  view,
  span,
  network,
  result,
  marks,
}: {
  view: ChangedView
  /** what somebody changed meanwhile */
  marks: readonly ChangeMark[]
  span: Period
  network: string | null
  result: string
}) {
  const formats = useFormats()
  const { money, currency, count, tenths, percent } = formats
  const networkName = useNetworkName()
  const { set } = useScope()
  const { whole } = view
  const { first, second } = whole
  const day = (of: Day) => formats.day(formatDay(of))
  const choose = (one: Period, other: Period) =>
    set({ first: written(one), from: formatDay(other.from), to: formatDay(other.to) })
  const before = daysBefore(second.period)
  const isBefore = before.from === first.period.from && before.to === first.period.to
  return (
    <Page
      at="/reconcile/changed"
      says={comparisonSentence(whole, { amount: minor => `${money(Math.round(minor))} ${currency}`, day })}
      actions={
        <>
          Beside{' '}
          <PeriodPicker
            days={{ from: formatDay(first.period.from), to: formatDay(first.period.to) }}
            span={{ from: formatDay(span.from), to: formatDay(span.to) }}
            change={({ from, to }) => set({ first: `${from}..${to}` })}
          />
          {!isBefore && <Button onClick={() => set({ first: null })}>As many days before</Button>}
          <AsJson of="changed" />
          <Turns network={network} result={result} span={span} choose={choose} />
        </>
      }
    >
      <StandsOnNotes of={view.standsOn} />
      <ChangedChart
        days={view.days}
        first={first.period}
        second={second.period}
        marks={new Set(marks.map(mark => mark.day))}
      />
      {marks.length > 0 && (
        <Note>
          Changed meanwhile (▲):{' '}
          {marks.map(mark => `${formats.shortDay(mark.day)} ${markWords(mark, networkName)}`).join(', ')}.
        </Note>
      )}
      <Section title="What a claimed result costs more or less, and why">
        {whole.logChange !== null && <PartsBridge whole={whole} />}
        <DataTable
          label="The four parts"
          columns={partColumns(whole, formats)}
          rows={whole.parts}
          rowId={one => one.part}
        />
        <Note>
          Before: {money(first.spend)} {currency}, {count(first.claimed)} claims, {tenths(first.estimated)}{' '}
          estimated orders, {percent(first.capture)} claims per order. After: {money(second.spend)} {currency}
          , {count(second.claimed)} claims, {tenths(second.estimated)} orders, {percent(second.capture)}{' '}
          claims per order .
        </Note>
      </Section>
      <PartsTable view={view} />
    </Page>
  )
}

const written = ({ from, to }: Period) => `${formatDay(from)}..${formatDay(to)}`

const partColumns = (
  whole: Whole,
  { money, percent, currency }: Formats,
): Column<Whole['parts'][number]>[] => {
  const { first, second, logChange } = whole
  const more = (second.costPerClaim ?? 0) - (first.costPerClaim ?? 0)
  /** an amount for a change of the logarithm, so that the parts sum to the whole */
  const amountOf = (log: number | null) => (log === null || !logChange ? null : (more * log) / logChange)
  return [
    {
      id: 'part',
      words: true,
      value: ({ part }) => partWords[part].name,
      cell: ({ part }) => (
        <>
          {partWords[part].name}{' '}
          <Text as="span" color="quiet">
            {partWords[part].is}
          </Text>
        </>
      ),
    },
    { id: 'change', heading: `change, ${currency}`, as: 'amount', value: one => amountOf(one.log) },
    {
      id: 'range',
      heading: 'range of it',
      value: one => amountOf(one.low),
      cell: ({ low, high }) =>
        low === null || high === null || low === high || !logChange
          ? UNKNOWN
          : [amountOf(low), amountOf(high)]
              .sort((a, b) => a! - b!)
              .map(one => money(Math.round(one!)))
              .join(' to '),
    },
    {
      id: 'share',
      heading: 'share',
      value: one => one.share,
      // Parts that go against each other are no shares of what is left of them.
      cell: ({ share }) =>
        share !== null && share < 0
          ? 'against it'
          : share !== null && share > 1
            ? 'more than all'
            : percent(share),
    },
    {
      id: 'look',
      heading: 'where to look',
      words: true,
      wraps: true,
      value: ({ part }) => partWords[part].look,
      cell: ({ part }) => <Look part={part} />,
    },
  ]
}

function Look({ part }: { part: ComparedPart }) {
  const address = useSearchParams()
  const { look, at } = partWords[part]
  return <WordLink href={`${at}${keptQuery(address)}`}>{look}</WordLink>
}

/** Whether something really costs more, or is only seen less. */
function verdictOf({ real, parts, logChange }: Compared): string {
  if (logChange === null) return 'cannot be told'
  const capture = parts.find(one => one.part === 'capture')
  if (real.low !== null && real.low > 0) return 'really dearer'
  if (real.high !== null && real.high < 0) return 'really cheaper'
  if (capture?.low != null && capture.low > 0) return 'only seen less'
  if (capture?.high != null && capture.high < 0) return 'only seen more'
  return 'within chance'
}

type Row = ChangedView['parts'][number] & { below?: Row[] }

/** The same of each network and campaign, so that one that really tires stands out from one that is only unseen. */
function PartsTable({ view }: { view: ChangedView }) {
  const { money, percent, currency } = useFormats()
  const networkName = useNetworkName()
  const rows = view.parts
    .filter(one => one.campaign === null)
    .map(one => ({
      ...one,
      name: networkName(one.network),
      below: view.parts
        .filter(other => other.campaign !== null && other.network === one.network)
        .map(other => ({ ...other, name: other.name || 'not broken down' })),
    }))
  const both = (
    id: string,
    heading: string,
    value: (side: Compared['first']) => number | null,
    write: (value: number | null) => string,
  ): Column<Row> => ({
    id,
    heading,
    value: ({ of }) => change(value(of.first), value(of.second)),
    cell: ({ of }) => `${write(value(of.first))} → ${write(value(of.second))}`,
  })
  const amount = (value: number | null) => money(value === null ? null : Math.round(value))
  return (
    <Section title="By network and campaign">
      <DataTable<Row>
        label="What changed by network and campaign"
        name="changed"
        columns={[
          {
            id: 'name',
            heading: 'network, campaign',
            words: true,
            wraps: true,
            width: 220,
            value: r => r.name,
          },
          { id: 'verdict', heading: 'the real cost', words: true, pick: true, value: r => verdictOf(r.of) },
          both('claimed', `a claim cost, ${currency}`, side => side.costPerClaim, amount),
          both('real', `a result cost, ${currency}`, side => side.costPerResult, amount),
          {
            id: 'chance',
            heading: 'of that, range',
            value: ({ of }) => of.real.low,
            cell: ({ of: { real } }) =>
              real.low === null || real.high === null
                ? UNKNOWN
                : `${factor(real.low)} to ${factor(real.high)} %`,
            hint: 'By how much the real cost changed, with 80 % likelihood.',
          },
          both('capture', 'claims per order', side => side.capture, percent),
          both('spend', `spend, ${currency}`, side => side.spend, amount),
        ]}
        rows={rows}
        rowId={r => `${r.network}/${r.campaign ?? ''}`}
        below={r => r.below}
        belowWords={['Show campaigns', 'Networks only']}
        opened={view.parts.length <= 60}
        strong={r => r.below !== undefined}
        tools
        main
      />
    </Section>
  )
}
const change = (before: number | null, after: number | null) =>
  before !== null && after !== null && before > 0 ? after / before - 1 : null
/** A change of the logarithm in hundredths. */
const factor = (log: number): string => {
  const percent = Math.round((Math.exp(log) - 1) * 100)
  return percent < 0 ? `−${-percent}` : `+${percent}`
}

const AROUND = 14

/** Finds the days on which something changed, and sets the periods before and after one. */
function Turns({
  network,
  result,
  span,
  choose,
}: {
  network: string | null
  result: string
  span: Period
  choose: (first: Period, second: Period) => void
}) {
  const formats = useFormats()
  const [asked, setAsked] = useState(false)
  const query = new URLSearchParams({ result, ...(network && { network }) })
  const { answer, problem, isLoading } = useServer<Turn[]>(asked ? `/api/reconcile/turns?${query}` : null)
  const day = (of: Day) => formats.day(formatDay(of))
  const around = (turn: Day) => {
    const days = Math.max(1, Math.min(AROUND, turn - span.from, span.to - turn + 1))
    choose({ from: turn - days, to: turn - 1 }, { from: turn, to: turn + days - 1 })
  }
  return (
    <>
      <Button aria-pressed={asked} onClick={() => setAsked(true)}>
        Find when it changed
      </Button>
      {asked && (
        <Box flexBasis="100%">
          <Said busy={isLoading && 'Looking at all days …'} alarm={problem !== null}>
            {problem ??
              (answer?.length === 0 &&
                'Neither claims per order nor the real cost changed on any day by more than chance would change it.')}
          </Said>
          {answer?.map(({ of, day: turn, from, to, probability }) => (
            <Box key={of} py="0.5">
              {turnWords[of]} changed {from < to ? 'about' : 'on'} {day(turn)}
              {from < to && ` (between ${day(from)} and ${day(to)})`}; chance would do that{' '}
              {probability <= 0.001
                ? 'less than once in 1,000 times'
                : `${Math.round(probability * 1000)} in 1,000 times`}
              .{' '}
              <Button size="xs" onClick={() => around(turn)}>
                Compare before and after
              </Button>
            </Box>
          ))}
        </Box>
      )}
    </>
  )
}
