'use client'
import { Box, Flex, Slider, Text } from '@chakra-ui/react'
import { type ReactNode, useState } from 'react'
import { MOST_WINDOW, within } from '@/core/evidence/ownRule'
import { WHOLE } from '@/core/evidence/place'
import type { OwnRules } from '@/core/intake/settings'
import type { OwnRulesView } from '@/server/compute/views/ownRules'
import { FigureLink } from '../evidence/PanelContext'
import { UNKNOWN, useFormats } from '../format'
import { SelectField } from '../parts/Fields'
import { Note, Page, Section } from '../parts/Page'
import type { Column } from '../parts/table/columns'
import { DataTable } from '../parts/table/DataTable'
import { WordLink } from '../parts/WordLink'
import { creditWords } from '../results/resultWords'
import { useNetworkName } from '../shell/NetworkNames'
import { useResultWords } from '../shell/ResultWords'
import { useAddressed } from '../shell/useScope'
import { AmountsTable } from './AmountsTable'
import { AsJson } from './AsJson'

type Row = OwnRulesView['networks'][number]

/** What a network should have claimed by its rule: by our credit, as if it were alone, by its window, by its dates. */
const stepsOf = ({ credited, byOrderDay, byItsDay, rules }: Row, ourWindow: number) => ({
  credited: credited / WHOLE,
  alone: within(byOrderDay, ourWindow),
  windowed: within(byOrderDay, rules.click_window_days),
  dated: within(byItsDay, rules.click_window_days),
})

/** Our rule beside theirs: why a network's figure differs before anybody counted wrong. */
export function OwnRulesScreen({
  view: { networks: view, amounts },
  ours,
}: {
  view: OwnRulesView
  ours: OwnRules
}) {
  const { count, tenths } = useFormats()
  const networkName = useNetworkName()
  const words = useResultWords()
  const [chosen, setChosen] = useAddressed('with', '')
  const one =
    view.find(row => row.network === chosen) ?? view.toSorted((a, b) => b.clickClaims - a.clickClaims)[0]
  const sum = (of: (row: Row) => number) => view.reduce((all, row) => all + of(row), 0)
  const columns: Column<Row>[] = [
    { id: 'network', words: true, value: row => networkName(row.network) },
    {
      id: 'rule',
      heading: 'its rule',
      words: true,
      wraps: true,
      width: 180,
      value: ({ rules }) =>
        `${rules.click_window_days} days after a click, ${rules.view_window_days} after a view, by the day of the ${rules.dated_by === 'click' ? 'click' : 'order'}, ${rules.time_zone}`,
    },
    {
      id: 'credited',
      heading: 'our credit',
      hint: words('Orders that our rule gives it.'),
      value: row => stepsOf(row, ours.click_window_days).credited,
      as: 'tenths',
    },
    {
      id: 'alone',
      heading: 'all it touched',
      hint: words(
        'Orders that follow a click of it within our window, whoever else was clicked: a network knows of no other.',
      ),
      value: row => stepsOf(row, ours.click_window_days).alone,
    },
    {
      id: 'windowed',
      heading: 'by its window',
      hint: words('The same within its own window.'),
      value: row => stepsOf(row, ours.click_window_days).windowed,
    },
    {
      id: 'dated',
      heading: 'by its dates',
      hint: 'The same, of this period by the day and zone that it goes by: what it should have claimed, of what we saw.',
      value: row => stepsOf(row, ours.click_window_days).dated,
    },
    {
      id: 'claims',
      heading: 'it claims by click',
      value: row => row.clickClaims,
      cell: row => (
        <FigureLink
          figure="claims"
          scope={{ network: row.network }}
          of={networkName(row.network)}
          shown={count(row.clickClaims)}
        />
      ),
    },
    {
      id: 'views',
      heading: 'by view',
      hint: 'What the network claims after a view.',
      value: row => row.viewClaims,
    },
    {
      id: 'unsaid',
      heading: 'its rule does not say why',
      words: true,
      wraps: true,
      width: 230,
      value: row => unexplained(row, ours.click_window_days),
    },
  ]
  return (
    <Page
      at="/reconcile/rules"
      actions={<AsJson of="rules" />}
      says={
        view.length === 0
          ? words('No network has clicks or claims in this period.')
          : words(
              `By our rule (${creditWords[ours.credit]}, ${ours.click_window_days} days) ads brought ${tenths(sum(row => row.credited) / WHOLE)} orders that we saw; by their own rules the networks should claim ${count(sum(row => stepsOf(row, ours.click_window_days).dated))} of them, and claim ${count(sum(row => row.clickClaims))} by click.`,
            )
      }
    >
      {one && (
        <>
          <DataTable
            label="Each network by its own rule"
            columns={columns}
            rows={view}
            rowId={row => row.network}
            enter={row => setChosen(row.network)}
            chosen={one.network}
            total={null}
            tools
            main
          />
          <Note>
            Each step changes one thing: who else was clicked no longer counts, then its window, then the day
            that it goes by. Windows and dates stand in each network’s{' '}
            <WordLink href="/links/profiles">profile</WordLink>; ours under{' '}
            <WordLink href="/settings">Settings</WordLink>.
          </Note>
          <WindowTry key={one.network} row={one} name={networkName(one.network)}>
            <SelectField
              unseen
              label="Network to try it with"
              value={one.network}
              change={setChosen}
              choices={view.map(row => [row.network, networkName(row.network)] as const)}
            />
          </WindowTry>
          <AmountsTable amounts={amounts} />
        </>
      )}
    </Page>
  )

  function unexplained(row: Row, ourWindow: number): string {
    const should = stepsOf(row, ourWindow).dated
    if (row.clickClaims + row.viewClaims === 0) return 'it claims nothing'
    const seen = row.ownCapture
    const hidden = seen && seen < 1 ? Math.round(should / seen - should) : 0
    const more = row.clickClaims - should
    if (Math.abs(more) <= Math.max(2, 0.05 * should)) return 'nothing: they agree'
    return more < 0
      ? words(`${count(-more)} orders that we saw and it does not claim`)
      : hidden > 0
        ? words(`${count(more)} more; some ${count(hidden)} orders with its click may be hidden from us`)
        : words(`${count(more)} claims more than orders that we saw`)
  }
}

/** A window that is drawn longer or shorter, with what the network would have claimed by it. */
function WindowTry({ row, name, children }: { row: Row; name: string; children: ReactNode }) {
  const { count, percent } = useFormats()
  const words = useResultWords()
  const [window, setWindow] = useState(row.rules.click_window_days)
  const all = within(row.byItsDay, MOST_WINDOW)
  const most = Math.max(1, ...row.byItsDay)
  const own = within(row.byItsDay, window)
  return (
    <Section title={`What another window would do to ${name}`} label="Another window">
      <Flex gap="6" align="center" mt="2" maxWidth="60rem">
        {children}
        <Slider.Root
          aria-label={[`Window of ${name} in days`]}
          width="22rem"
          min={1}
          max={MOST_WINDOW}
          value={[window]}
          onValueChange={({ value: [days] }) => setWindow(days ?? 1)}
        >
          <Slider.Control>
            <Slider.Track>
              <Slider.Range />
            </Slider.Track>
            <Slider.Thumbs />
          </Slider.Control>
        </Slider.Root>
        <Text aria-live="polite">
          {words(
            `${window} ${window === 1 ? 'day' : 'days'}: ${count(own)} orders, ${percent(all > 0 ? own / all : null)} of all that follow a click of it within ${MOST_WINDOW} days; now ${count(within(row.byItsDay, row.rules.click_window_days))}.`,
          )}
        </Text>
      </Flex>
      <Flex
        role="img"
        aria-label={words(
          `Orders by days after the click: most come within ${daysOfMost(row.byItsDay)} days`,
        )}
        align="flex-end"
        gap="1px"
        height="70px"
        maxWidth="46rem"
        mt="3"
        borderBottomWidth="1px"
        borderColor="ink"
      >
        {row.byItsDay.map((orders, days) => (
          <Box
            key={days}
            flex="1"
            height={`${(100 * orders) / most}%`}
            bg={days <= window ? 'shop' : 'transparent'}
            borderWidth={orders > 0 ? '1px' : '0'}
            borderColor="shop"
            title={`${days === 0 ? 'parameters alone' : `within ${days} ${days === 1 ? 'day' : 'days'}`}: ${count(orders)}`}
          />
        ))}
      </Flex>
      <Text fontSize="12px" color="quiet">
        {words('orders by days after the last click, 0 – ')}
        {MOST_WINDOW}
        {all === 0 && ` ${UNKNOWN}`}
      </Text>
    </Section>
  )
}

/** The days within which nine of ten come. */
function daysOfMost(counts: readonly number[]): number {
  const all = within(counts, counts.length)
  return counts.findIndex((_, days) => within(counts, days) >= 0.9 * all)
}
