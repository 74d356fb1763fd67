'use client'
import { Box, Grid, Text } from '@chakra-ui/react'
import { useSearchParams } from 'next/navigation'
import { ratio } from '@/core/weigh/figures'
import type { Trend, TrendStretch } from '@/core/weigh/trend'
import type { TrendView } from '@/server/compute/views/trend'
import { useFormats } from '../../format'
import { SelectField } from '../../parts/Fields'
import { Note, Page, Section } from '../../parts/Page'
import { DataTable } from '../../parts/table/DataTable'
import { WordLink } from '../../parts/WordLink'
import { type ChangeMark, markWords } from '../../reconcile/markWords'
import { useNetworkName } from '../../shell/NetworkNames'
import { useResultWords } from '../../shell/ResultWords'
import { useAddressed } from '../../shell/useScope'
import { factorWords } from '../plan/PlanCell'
import { StandsOnNotes } from '../StandsOnNotes'
import { queryOf } from '../WeighTable'
import { TrendChart } from './TrendChart'

/** A day on which something was changed: a move of this row, or how things are counted. */
export interface TrendMark {
  day: string
  change?: ChangeMark
  move?: { name: string; factor: number; by: string }
}
/** So many rows below are drawn small. */
const DRAWN = 12
const DAY_MS = 86_400_000

/** How one row went: what was spent and what a result cost, its moves marked, and the rows below it small. */
export function TrendScreen({ view, marks }: { view: TrendView; marks: readonly TrendMark[] }) {
  const { money, tenths, day, count, ratioText, percent, currency } = useFormats()
  const words = useResultWords()
  const networkName = useNetworkName()
  const query = queryOf(useSearchParams().toString())
  const [each, chooseEach] = useAddressed('each', 'week')
  const { whole, below, line } = view
  const nameOf = ({ path, name }: Trend) =>
    path.length === 0 ? 'All ads' : path.length === 1 ? networkName(path[0]!) : name || 'not broken down'
  const known = whole.stretches.filter(one => one.cost !== null)
  const [first, last] = [known[0], known.at(-1)]
  const isIn = ({ from, days }: TrendStretch, mark: TrendMark) => {
    const at = (Date.parse(mark.day) - Date.parse(from)) / DAY_MS
    return at >= 0 && at < days
  }
  const marked = whole.stretches.map(stretch => marks.some(mark => isIn(stretch, mark)))
  const linkTo = (path: readonly string[]) =>
    `/weigh/trend?${query}&row=${encodeURIComponent(JSON.stringify(path))}`
  return (
    <Page
      at="/weigh/trend"
      says={
        <>
          <b>{nameOf(whole)}</b>
          {whole.path.length > 1 && ` at ${networkName(whole.path[0]!)}`}
          {first && last
            ? words(
                `: an order cost ${money(Math.round(last.cost!))} ${currency} in the last ${each}, and ${money(Math.round(first.cost!))} in the first`,
              )
            : words(': no order has come of it in these days')}
          {line !== null && (
            <>
              . Break-even is <b>{money(Math.round(line))}</b>
              {view.breakEvenRoas !== null && ` (ROAS ${ratioText(view.breakEvenRoas)})`}
            </>
          )}
          .
        </>
      }
      actions={
        <>
          <SelectField
            unseen
            label="Each"
            value={each}
            change={chooseEach}
            choices={[
              ['week', 'week by week'],
              ['day', 'day by day'],
            ]}
          />
          {whole.path.length > 0 && (
            <Text>
              up to{' '}
              {whole.path.map((_, depth) => {
                const path = whole.path.slice(0, depth)
                return (
                  <Text as="span" key={path.join('/')}>
                    {depth > 0 && ' › '}
                    <WordLink href={linkTo(path)}>
                      {path.length === 0
                        ? 'all ads'
                        : path.length === 1
                          ? networkName(path[0]!)
                          : path.at(-1)}
                    </WordLink>
                  </Text>
                )
              })}
            </Text>
          )}
        </>
      }
    >
      <Box mt="3">
        <TrendChart
          stretches={whole.stretches}
          line={line}
          marked={marked}
          height="250px"
          label={words(
            `Spend and cost of an order from ${day(view.days.from)} to ${day(view.days.to)}; the same figures stand in the table below`,
          )}
        />
      </Box>
      <StandsOnNotes of={view.standsOn} />
      <Note>
        The band is an 80 % range. It is wider than in Weigh: it adds how much a {each} varies by chance, so
        that a change beyond the band is a real one. {marks.length > 0 && '▲ marks what was changed.'}
      </Note>
      {marks.map(mark => (
        <Text key={`${mark.day} ${JSON.stringify(mark)}`} fontSize="13px" mt="1">
          ▲ {day(mark.day)}:{' '}
          {mark.change
            ? markWords(mark.change, networkName)
            : mark.move && `${mark.move.name}, ${factorWords(mark.move.factor)}, by ${mark.move.by}`}
        </Text>
      ))}
      <Section title="The figures">
        <DataTable
          label="History"
          rows={whole.stretches}
          rowId={one => one.from}
          tools
          columns={[
            {
              id: 'from',
              words: true,
              width: 110,
              as: 'day',
              hint: 'the first day of the stretch',
              value: one => one.from,
            },
            {
              id: 'spend',
              width: 84,
              as: 'amount',
              hint: 'from the networks’ delivery reports',
              value: one => Math.round(one.spend),
            },
            {
              id: 'results',
              heading: words('estimated orders'),
              width: 120,
              hint: words(
                'estimated orders with their 80 % range: of the estimate, as in Weigh, and of chance from one stretch to the next',
              ),
              value: one => one.results,
              cell: one =>
                `${tenths(one.results)}  (${count(Math.round(one.low))}–${count(Math.round(one.high))})`,
            },
            {
              id: 'cost',
              heading: words('one cost'),
              width: 80,
              as: 'amount',
              hint: words('spend for each estimated order'),
              value: one => one.cost && Math.round(one.cost),
            },
            {
              id: 'leaves',
              heading: 'profit',
              width: 84,
              as: 'amount',
              hint: 'profit of all results before ads, less spend',
              value: one => Math.round(one.leaves - one.spend),
            },
            {
              id: 'capture',
              width: 70,
              hint: 'of the orders of its network, how many the network claims',
              value: one => one.capture,
              cell: one => percent(one.capture),
            },
            {
              id: 'attention',
              heading: 'CPM',
              width: 70,
              as: 'amount',
              hint: 'spend for a thousand impressions',
              value: one => one.priceOfAttention && Math.round(one.priceOfAttention),
            },
            {
              id: 'frequency',
              width: 76,
              hint: 'how often those who were reached saw it in a day, where its network reports whom it reached',
              value: one => one.frequency,
              cell: one => ratioText(one.frequency),
            },
            {
              id: 'ctr',
              heading: 'CTR',
              width: 66,
              hint: 'clicks for each impression',
              value: one => ratio(one.clicks, one.impressions),
              cell: one => {
                const share = ratio(one.clicks, one.impressions)
                return share === null ? '—' : `${ratioText(share * 100)} %`
              },
            },
          ]}
        />
      </Section>
      {below.length > 0 && (
        <Section title="What is below it">
          <Grid templateColumns="repeat(auto-fill, minmax(260px, 1fr))" gap="4" mt="2">
            {below.slice(0, DRAWN).map(one => (
              <Box key={one.path.join('/')} minWidth="0">
                <Text truncate title={nameOf(one)} fontSize="13px">
                  <WordLink href={linkTo(one.path)}>{nameOf(one)}</WordLink>
                </Text>
                <TrendChart
                  small
                  stretches={one.stretches}
                  line={line}
                  marked={[]}
                  height="96px"
                  label={words(`Spend and cost of an order of ${nameOf(one)}`)}
                />
              </Box>
            ))}
          </Grid>
          {below.length > DRAWN && <Note>And {count(below.length - DRAWN)} more, which spent less.</Note>}
        </Section>
      )}
    </Page>
  )
}
