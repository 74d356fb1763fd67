'use client'
import { useSearchParams } from 'next/navigation'
import { causes, type GapCause, orderCauses } from '@/core/evidence/causes'
import { claimCausesIn, type Gap, type GapLine } from '@/core/evidence/gap'
import { ratio } from '@/core/weigh/figures'
import type { Scope } from '@/core/weigh/scope'
import { FigureLink } from '../evidence/PanelContext'
import { useFormats } from '../format'
import { SelectField } from '../parts/Fields'
import { Section } from '../parts/Page'
import type { Column } from '../parts/table/columns'
import { DataTable } from '../parts/table/DataTable'
import { WordLink } from '../parts/WordLink'
import { useResultWords } from '../shell/ResultWords'
import { keptQuery, useAddressed } from '../shell/useScope'
import { AsJson } from './AsJson'
import { GapBridge } from './GapBridge'

/** Where something can be done about a cause; none where nothing need be. */
const placeOf: Partial<Record<GapCause, { href: string; words: string }>> = {
  not_seen: { href: '/results', words: 'Is its signal heard?' },
  past_window: { href: '/settings', words: 'How long a click counts' },
  no_ad_evidence: { href: '/links/arrivals', words: 'What parameters arrive' },
  repeat: { href: '/signals', words: 'What the tag sends' },
  view_only: { href: '/settings', words: 'How long a view counts' },
  no_such_order: { href: '/intake/shop', words: 'Is every order here?' },
}

const sideWords = {
  claim: 'claims without an order',
  order: 'orders without a claim',
  pair: 'on both sides',
} as const

/** The gap as a bridge from claims to orders, each cause with its share, its change and what to do about it. */
export function CauseTable({
  gap,
  before,
  scope,
  of,
}: {
  gap: Gap
  before: Gap | null
  scope: Scope
  of: string
}) {
  const { count, percent, currency, money } = useFormats()
  const words = useResultWords()
  const kept = keptQuery(useSearchParams())
  const lineOf = (cause: GapCause, within: Gap) => within.causes.find(line => line.cause === cause)!
  const [chosen, choose] = useAddressed('causes', 'count')
  const by = chosen === 'value' ? 'value' : 'count'
  const rows = [...claimCausesIn([gap]), ...orderCauses, 'value_differs' as const].map(cause =>
    lineOf(cause, gap),
  )
  /** how many it is: of orders and claims that stand on both sides, those whose values differ */
  const countOf = (line: GapLine) => line.pairs ?? line.count
  const sized = (line: GapLine) => (by === 'value' ? Math.abs(line.value) : line.count)
  const all = rows.reduce((sum, line) => sum + sized(line), 0)
  const columns: Column<GapLine>[] = [
    {
      id: 'cause',
      words: true,
      width: 170,
      value: ({ cause }) => words(causes[cause].label),
      cell: ({ cause }) => <span title={words(causes[cause].means)}>{words(causes[cause].label)}</span>,
    },
    {
      id: 'side',
      words: true,
      value: ({ cause }) => words(sideWords[causes[cause].side]),
    },
    {
      id: 'count',
      heading: 'how many',
      value: countOf,
      cell: line => <FigureLink figure={line.cause} scope={scope} of={of} shown={count(countOf(line))} />,
    },
    {
      id: 'share',
      heading: 'share of all',
      hint: 'Of all claims and orders that stand on one side alone, by how many or by what they are worth.',
      value: line => ratio(sized(line), all),
      cell: line => percent(ratio(sized(line), all)),
    },
    ...(before
      ? [
          {
            id: 'change',
            heading: 'change',
            hint: 'Against as many days before.',
            value: line => countOf(line) - countOf(lineOf(line.cause, before)),
            cell: line => {
              const more = countOf(line) - countOf(lineOf(line.cause, before))
              return more === 0 ? '0' : more > 0 ? `+${count(more)}` : `−${count(-more)}`
            },
          } satisfies Column<GapLine>,
        ]
      : []),
    {
      id: 'worth',
      heading: `worth, ${currency}`,
      as: 'amount',
      value: line => line.value,
      cell: ({ cause, value }) => (
        <FigureLink figure={cause} worth scope={scope} of={of} shown={money(value)} />
      ),
    },
    {
      id: 'todo',
      heading: 'what to do',
      words: true,
      wraps: true,
      value: ({ cause }) => words(causes[cause].todo),
      cell: ({ cause }) => {
        const place = placeOf[cause]
        return (
          <>
            {words(causes[cause].todo)}{' '}
            {place && <WordLink href={`${place.href}${kept}`}>{words(place.words)}</WordLink>}
          </>
        )
      },
    },
  ]
  return (
    <Section title="From claims to orders" label="The causes of the gap">
      <GapBridge gap={gap} by={by} />
      <DataTable
        label="Causes of the gap"
        columns={columns}
        rows={rows}
        rowId={line => line.cause}
        tools
        bar={
          <>
            <SelectField
              unseen
              label="Causes by"
              value={by}
              change={choose}
              choices={[
                ['count', 'by how many'],
                ['value', `by worth in ${currency}`],
              ]}
            />
            <AsJson of="balance" />
          </>
        }
      />
    </Section>
  )
}
