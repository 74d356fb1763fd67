'use client'
import { useSearchParams } from 'next/navigation'
import { causes, claimCauses, type GapCause, orderCauses } from '@/core/evidence/causes'
import type { Gap, GapLine } from '@/core/evidence/gap'
import { ratio } from '@/core/weigh/figures'
import type { Scope } from '@/core/weigh/scope'
import { FigureLink } from '../evidence/PanelContext'
import { useFormats } from '../format'
import { Section } from '../parts/Page'
import type { Column } from '../parts/table/columns'
import { DataTable } from '../parts/table/DataTable'
import { WordLink } from '../parts/WordLink'
import { useResultWords } from '../shell/ResultWords'
import { keptQuery } from '../shell/useScope'
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
  const rows = [...claimCauses, ...orderCauses].map(cause => lineOf(cause, gap))
  const all = rows.reduce((sum, line) => sum + line.count, 0)
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
      value: ({ cause }) =>
        words(causes[cause].side === 'claim' ? 'claims without an order' : 'orders without a claim'),
    },
    {
      id: 'count',
      heading: 'how many',
      value: line => line.count,
      cell: ({ cause, count: n }) => <FigureLink figure={cause} scope={scope} of={of} shown={count(n)} />,
    },
    {
      id: 'share',
      heading: 'share of all',
      hint: 'Of all claims and orders that stand on one side alone.',
      value: line => ratio(line.count, all),
      cell: line => percent(ratio(line.count, all)),
    },
    ...(before
      ? [
          {
            id: 'change',
            heading: 'change',
            hint: 'Against as many days before.',
            value: line => line.count - lineOf(line.cause, before).count,
            cell: line => {
              const more = line.count - lineOf(line.cause, before).count
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
      <GapBridge gap={gap} />
      <DataTable label="Causes of the gap" columns={columns} rows={rows} rowId={line => line.cause} tools />
    </Section>
  )
}
