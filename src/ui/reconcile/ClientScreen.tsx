'use client'
import { Box, Button, Heading, Table, Text } from '@chakra-ui/react'
import type { ReactNode } from 'react'
import { causes, claimCauses, type GapCause, orderCauses } from '@/core/evidence/causes'
import type { Gap } from '@/core/evidence/gap'
import type { OwnRules } from '@/core/intake/settings'
import { formatDay } from '@/core/shared/days'
import { comparisonSentence } from '@/core/weigh/comparisonSentence'
import { addSums, costOf, noSums, ratio } from '@/core/weigh/figures'
import type { JudgedRow } from '@/core/weigh/rows'
import type { ChangedView } from '@/server/compute/views/changed'
import type { ReconcileView } from '@/server/compute/views/reconcile'
import type { WeighView } from '@/server/compute/views/weigh'
import { Balance } from '../evidence/Balance'
import { FormatsContext, formatsOf, type Habits, UNKNOWN, useFormats } from '../format'
import { SelectField } from '../parts/Fields'
import { Note } from '../parts/Page'
import { PartNav } from '../parts/PartNav'
import { creditWords } from '../results/resultWords'
import { habitsOfWriting } from '../settings/habits'
import { useNetworkName } from '../shell/NetworkNames'
import { useResultWords } from '../shell/ResultWords'
import { useScope } from '../shell/useScope'
import { StandsOnNotes } from '../weigh/StandsOnNotes'

interface Shown {
  gap: ReconcileView
  cost: WeighView
  changed: ChangedView['whole']
  /** the workspace's name */
  name: string
  /** the rules by which the result is counted */
  rules: OwnRules
  network: string | null
}

/** One page for whoever pays for the ads: what was claimed, what was booked, what a result cost, and how sure that is. */
export function ClientScreen({
  habits,
  asked,
  ...shown
}: Shown & {
  habits: Habits
  /** the language that the address asks for */
  asked: string | null
}) {
  const { set } = useScope()
  return (
    <Box px="5" py="4" maxWidth="60rem">
      <PartNav here="/reconcile/client" />
      <Box className="no-print" display="flex" gap="2" mb="4" fontSize="13px" alignItems="center">
        <SelectField
          unseen
          label="Numbers and dates as"
          value={asked ?? ''}
          change={as => set({ as })}
          choices={[
            ['', 'numbers and dates as here'],
            ...habitsOfWriting.map(tag => [tag, `as in ${tag}`] as const),
          ]}
        />
        <Button variant="solid" onClick={() => window.print()}>
          Print it, or save it as PDF
        </Button>
      </Box>
      <FormatsContext value={formatsOf(habits)}>
        <Sheet {...shown} />
      </FormatsContext>
    </Box>
  )
}

function Sheet({ gap: { gap, captures }, cost, changed, name, rules, network }: Shown) {
  const { count, money, tenths, percent, ratioText, currency, day, zone } = useFormats()
  const words = useResultWords()
  const networkName = useNetworkName()
  const { first, second } = changed
  const dayOf = (of: number) => day(formatDay(of))
  const { totals } = cost
  const estimated = totals.sums.estimatedTenths / 10
  const bySpend = cost.campaigns.toSorted((a, b) => b.sums.spend - a.sums.spend)
  const largest = bySpend.slice(0, MOST_CAMPAIGNS)
  const amount = (minor: number | null) => money(minor === null ? null : Math.round(minor))
  /** campaigns that are too small for a line of their own, in one */
  const rest = bySpend.slice(MOST_CAMPAIGNS)
  const restSums = rest.reduce((sum, row) => addSums(sum, row.sums), noSums())
  const restOrders = restSums.estimatedTenths / 10
  const others =
    rest.length === 0
      ? []
      : [
          [
            `${count(rest.length)} others`,
            amount(restSums.spend),
            tenths(restOrders),
            UNKNOWN,
            amount(costOf(restSums, restOrders)),
            UNKNOWN,
          ],
        ]
  return (
    <Box as="article" aria-label="The page for the client" css={{ '@media print': { zoom: 0.7 } }}>
      <Heading as="h1" fontSize="22px">
        {name}
      </Heading>
      <Text>
        {network ? networkName(network) : 'All networks'}, {dayOf(second.period.from)} –{' '}
        {dayOf(second.period.to)}. Amounts in {currency}, days in {zone}.
      </Text>
      <Text fontSize="18px" mt="4" textWrap="pretty">
        {words(
          `The shop booked ${count(gap.orders)} orders; networks claim ${count(gap.claims)}, of which ${count(gap.matched)} stand on both sides.`,
        )}{' '}
        {words(
          `Ads brought an estimated ${tenths(estimated)} of them (${tenths(totals.low)} – ${tenths(totals.high)})`,
        )}{' '}
        for {amount(totals.sums.spend)}: {amount(costOf(totals.sums, estimated))} each
        {cost.line !== null && `, where ${amount(cost.line)} would break even`}. ROAS is{' '}
        {ratioText(ratio(totals.sums.estimatedValue, totals.sums.spend))}, break-even{' '}
        {ratioText(cost.breakEvenRoas)}.
      </Text>
      <StandsOnNotes of={cost.rests.days} asks={false} />
      <Box mt="4">
        <Balance
          claimsAlone={gap.claims - gap.matched}
          both={gap.matched}
          ordersAlone={gap.orders - gap.matched}
          most={Math.max(gap.claims, gap.orders)}
          height="26px"
          label={words(`${gap.claims} claims, ${gap.orders} orders, ${gap.matched} in both`)}
        />
      </Box>
      <Part title={words('Why claims and orders differ')}>
        <Lines
          headings={['cause', 'how many', 'worth', 'what it means']}
          rows={[...claimCauses, ...orderCauses]
            .map(cause => lineOf(cause, gap))
            .filter(line => line.count > 0)
            .map(({ cause, count: n, value }) => [
              words(causes[cause].label),
              count(n),
              money(value),
              words(causes[cause].means),
            ])}
        />
        <Note>
          {words(
            `${count(gap.orders)} orders − ${count(gap.claims)} claims = ${count(gap.orders - gap.claims)}: each order and each claim of the difference stands under one cause.`,
          )}
        </Note>
      </Part>
      <Part title="What a result cost">
        <Lines
          headings={['campaign', 'spend', words('orders, estimated'), 'between', 'cost', 'may cost']}
          rows={[...largest.map(row => costLine(row, networkName)), ...others, costLine(totals, networkName)]}
        />
      </Part>
      <Part title="How much is seen">
        <Lines
          headings={[
            'network',
            words('of its orders, reported by it'),
            words('of its orders, tracked by us'),
          ]}
          rows={captures.map(c => [networkName(c.network), percent(c.networkCapture), percent(c.ownCapture)])}
        />
      </Part>
      <Part title={`Against ${dayOf(first.period.from)} – ${dayOf(first.period.to)}`}>
        <Text>
          {comparisonSentence(changed, { amount: minor => `${amount(minor)} ${currency}`, day: dayOf })}
        </Text>
      </Part>
      <Note>
        Counted by {creditWords[rules.credit]}, up to {count(rules.click_window_days)} days after a click;{' '}
        {rules.view_window_days > 0
          ? `claims by view up to ${count(rules.view_window_days)} days`
          : 'no claims by view'}
        . What a result may cost is what it leaves, at a margin of {percent(rules.margin)}. Orders that nobody
        saw are estimated from what networks and shop saw of each other’s; the range holds with 80 %
        likelihood.
      </Note>
    </Box>
  )

  function costLine(row: JudgedRow, nameOf: (id: string) => string): string[] {
    const orders = row.sums.estimatedTenths / 10
    return [
      row.level === 'total' ? 'All' : `${nameOf(row.network)}: ${row.name || 'not broken down'}`,
      amount(row.sums.spend),
      tenths(orders),
      `${tenths(row.low)} – ${tenths(row.high)}`,
      amount(costOf(row.sums, orders)),
      row.line === null ? UNKNOWN : amount(row.line),
    ]
  }
}

/** What fits on a page. */
const MOST_CAMPAIGNS = 20

const lineOf = (cause: GapCause, gap: Gap) => gap.causes.find(line => line.cause === cause)!

const Part = ({ title, children }: { title: string; children: ReactNode }) => (
  <Box as="section" aria-label={title} mt="5" style={{ breakInside: 'avoid' }}>
    <Heading as="h2" fontSize="16px">
      {title}
    </Heading>
    {children}
  </Box>
)

/** A table that is only read: figures to the right, words to the left. */
function Lines({ headings, rows }: { headings: readonly string[]; rows: readonly (readonly string[])[] }) {
  const isWords = (text: string) => !/^[\d−—-]/.test(text)
  return (
    <Table.Root>
      <thead>
        <tr>
          {headings.map((heading, i) => (
            <th key={heading} scope="col" {...(isWords(rows[0]?.[i] ?? '') ? { 'data-words': '' } : {})}>
              {heading}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map(cells => (
          <tr key={cells[0]}>
            {cells.map((cell, i) =>
              i === 0 ? (
                <th key={headings[i]} scope="row" data-words="" style={{ whiteSpace: 'normal' }}>
                  {cell}
                </th>
              ) : (
                <td
                  key={headings[i]}
                  {...(isWords(cell) ? { 'data-words': '', style: { whiteSpace: 'normal' } } : {})}
                >
                  {cell}
                </td>
              ),
            )}
          </tr>
        ))}
      </tbody>
    </Table.Root>
  )
}
