'use client'
import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { ratio } from '@/core/weigh/figures'
import type { PageRow, PagesView, SplitRow } from '@/server/compute/views/pages'
import { UNKNOWN, useFormats } from '../../format'
import { Note, Page, Said, Section } from '../../parts/Page'
import type { Column } from '../../parts/table/columns'
import { DataTable } from '../../parts/table/DataTable'
import { undoable } from '../../parts/undo'
import { useSending } from '../../parts/useSending'
import { WordLink } from '../../parts/WordLink'
import { useNetworkName } from '../../shell/NetworkNames'
import { useResultWords } from '../../shell/ResultWords'

/** A side that is the better one so often can have all of what comes. */
const SETTLED = 0.95
/** What the leading side gets where nothing is settled yet: enough that the others can still catch up. */
const LEANING = 3

type Shift = (code: string, by: SplitRow['by'], weights: number[]) => Promise<string | null>

/** Landing pages and offers: what arrives, goes on and is brought, and which side of a split does best. */
export function PagesScreen({ view, shift }: { view: PagesView; shift: Shift }) {
  const { money, tenths, count, smallPercent, currency } = useFormats()
  const words = useResultWords()
  const columns = (what: string, offers: boolean): Column<PageRow>[] => [
    { id: 'address', heading: what, words: true, width: 330, value: row => row.address },
    { id: 'arrivals', width: 80, hint: 'ad clicks that arrived and count', value: row => row.arrivals },
    ...(offers
      ? []
      : ([
          {
            id: 'went_on',
            heading: 'went on',
            width: 76,
            hint: 'of those, how many went on to an offer',
            value: row => row.wentOn,
          },
          {
            id: 'share',
            heading: 'share that went on',
            width: 76,
            hint: 'of those who arrived',
            value: row => ratio(row.wentOn ?? 0, row.arrivals),
            cell: row => smallPercent(ratio(row.wentOn ?? 0, row.arrivals)),
          },
        ] satisfies Column<PageRow>[])),
    {
      id: 'results',
      heading: words('estimated orders'),
      width: 120,
      hint: words('true orders of these clicks, with the range that holds them four times in five'),
      value: row => row.results,
      cell: row => `${tenths(row.results)}  (${count(Math.round(row.low))}–${count(Math.round(row.high))})`,
    },
    {
      id: 'rate',
      heading: words('orders for arrivals'),
      width: 80,
      hint: words('estimated orders for each click that arrived'),
      value: row => ratio(row.results, row.arrivals),
      cell: row => smallPercent(ratio(row.results, row.arrivals)),
    },
    {
      id: 'value',
      heading: `value, ${currency}`,
      width: 90,
      as: 'amount',
      hint: words('what these orders are worth'),
      value: row => row.value,
    },
    {
      id: 'each',
      heading: `value of an arrival, ${currency}`,
      width: 90,
      as: 'amount',
      hint: 'value over how many arrived',
      value: row => ratio(row.value, row.arrivals),
    },
  ]
  const best = [...view.pages]
    .filter(page => page.arrivals >= 50)
    .sort((a, b) => b.value / b.arrivals - a.value / a.arrivals)[0]
  return (
    <Page
      at="/weigh/pages"
      says={
        view.pages.length === 0 ? (
          <>
            No click names its landing page in these days: clicks do that come by the{' '}
            <WordLink href="/intake/routes">tracking domain</WordLink> or are seen by the tag.
          </>
        ) : (
          <>
            <b>{count(view.pages.reduce((sum, page) => sum + page.arrivals, 0))}</b> clicks arrived on{' '}
            {count(view.pages.length)} {view.pages.length === 1 ? 'page' : 'pages'}
            {best && (
              <>
                ; an arrival is worth most on <b>{best.address}</b>, {money(ratio(best.value, best.arrivals))}{' '}
                {currency}
              </>
            )}
            .
          </>
        )
      }
    >
      {view.splits.map(split => (
        <Split key={`${split.code} ${split.by}`} split={split} shift={shift} />
      ))}
      <Section title="Landing pages">
        <DataTable
          label="Landing pages by arrivals"
          rows={view.pages}
          rowId={row => row.address}
          sorted={[{ id: 'arrivals', desc: true }]}
          columns={columns('landing page', false)}
          tools
        />
      </Section>
      <Section title="Offers">
        <DataTable
          label="Offers by arrivals"
          rows={view.offers}
          rowId={row => row.address}
          columns={columns('offer', true)}
          empty="Nobody went on to an offer in these days."
        />
        {view.offers.length > 0 && (
          <Note>{words('An offer’s orders are those of clicks that went on to it last.')}</Note>
        )}
      </Section>
    </Page>
  )
}

/** How one split stands, with one step to shift its weights. */
function Split({ split: { code, network, by, sides, needed }, shift }: { split: SplitRow; shift: Shift }) {
  const { money, count, percent, currency } = useFormats()
  const words = useResultWords()
  const networkName = useNetworkName()
  const [busy, send] = useSending()
  const [problem, setProblem] = useState<string | null>(null)
  const leading = sides.reduce((best, side, i) => (side.best > sides[best]!.best ? i : best), 0)
  const lead = sides[leading]!
  const settled = lead.best >= SETTLED
  const weights: number[] = sides.map((_, i) => (i === leading ? (settled ? 1 : LEANING) : settled ? 0 : 1))
  const now = sides.map(side => side.weight)
  const total = now.reduce((sum, weight) => sum + weight, 0)
  const known = sides.some(side => side.results > 0)
  const isSo = weights.every((weight, i) => weight * total === now[i]! * weights.reduce((a, b) => a + b, 0))
  const set = (next: number[], done: string) =>
    send(async () => {
      const wrong = await shift(code, by, next)
      setProblem(wrong)
      if (!wrong) undoable(done, () => shift(code, by, now))
    })
  return (
    <Section
      title={`Split of ${code}, ${networkName(network)}: ${by === 'landings' ? 'landing pages' : 'offers'}`}
    >
      <Text mt="1">
        {!known
          ? words('None of its sides has brought an order yet.')
          : settled
            ? `${lead.address} brings most, ${percent(lead.best)} likely.`
            : `${lead.address} leads and is the better one ${percent(lead.best)} likely${needed === null ? '' : `; about ${count(needed)} more arrivals at each side would settle it`}.`}
      </Text>
      <Box mt="2">
        <DataTable
          label={`Sides of ${code}, ${by}`}
          rows={sides}
          rowId={side => side.address}
          columns={[
            {
              id: 'side',
              heading: 'address',
              hint: 'where this side of the split leads',
              words: true,
              width: 330,
              value: side => side.address,
            },
            {
              id: 'weight',
              width: 70,
              hint: 'of what comes, how much is led to it',
              value: side => side.weight / total,
              cell: side => percent(side.weight / total),
            },
            {
              id: 'arrivals',
              width: 80,
              hint: 'ad clicks that arrived and count',
              value: side => side.arrivals,
            },
            {
              id: 'results',
              heading: words('orders'),
              width: 80,
              as: 'tenths',
              hint: words('orders that are tied to its clicks'),
              value: side => side.results,
            },
            {
              id: 'each',
              heading: `value of an arrival, ${currency}`,
              width: 110,
              as: 'amount',
              hint: 'value of these orders over how many arrived',
              value: side => ratio(side.worth, side.arrivals),
              cell: side => money(ratio(side.worth, side.arrivals)),
            },
            {
              id: 'best',
              heading: 'is the best',
              width: 100,
              hint: 'how likely it brings most for each arrival',
              value: side => (known ? side.best : null),
              cell: side => (known ? <BestMark share={side.best} words={percent(side.best)} /> : UNKNOWN),
            },
          ]}
        />
      </Box>
      <Flex gap="2" mt="2" align="center" fontSize="13px">
        <Button
          disabled={!known || busy || isSo}
          onClick={() =>
            set(weights, settled ? 'All of it goes to the better side.' : 'More goes to the leading side.')
          }
        >
          {settled
            ? 'Lead all of it to the better side'
            : 'Lead three parts to the leading side, one to each other'}
        </Button>
        {isSo && known && <Text color="quiet">It is so already.</Text>}
        <WordLink href="/intake/routes">Routes</WordLink>
      </Flex>
      <Said alarm={problem !== null}>{problem}</Said>
    </Section>
  )
}

const BestMark = ({ share, words }: { share: number; words: string }) => (
  <Flex gap="2" align="center" justify="flex-end">
    <Box aria-hidden width="44px" height="8px" borderBottomWidth="1px" borderColor="quiet">
      <Box height="7px" bg="shop" width={`${100 * share}%`} />
    </Box>
    {words}
  </Flex>
)
