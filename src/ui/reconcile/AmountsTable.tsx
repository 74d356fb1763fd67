'use client'
import { type Basis, basisNames } from '@/core/evidence/amountBasis'
import { ratio } from '@/core/weigh/figures'
import type { OwnRulesView } from '@/server/compute/views/ownRules'
import { UNKNOWN, useFormats } from '../format'
import { Note, Section } from '../parts/Page'
import type { Column } from '../parts/table/columns'
import { DataTable } from '../parts/table/DataTable'
import { useNetworkName } from '../shell/NetworkNames'
import { useResultWords } from '../shell/ResultWords'

type Row = OwnRulesView['amounts'][number]

const basisWords: Record<Basis, string> = {
  total: 'the whole total',
  without_shipping: 'without shipping',
  without_tax: 'without tax',
  net: 'without tax and shipping',
}

/** Which of an order's amounts each network seems to report, by how many of its claims each fits. */
export function AmountsTable({ amounts }: { amounts: OwnRulesView['amounts'] }) {
  const { count, percent, currency, money } = useFormats()
  const networkName = useNetworkName()
  const words = useResultWords()
  if (amounts.length === 0) return null
  const columns: Column<Row>[] = [
    { id: 'network', words: true, value: row => networkName(row.network) },
    {
      id: 'pairs',
      heading: words('orders it claims too'),
      hint: 'Those that stand on both sides, where the network says a value.',
      value: row => row.pairs,
    },
    ...basisNames.map(
      (basis): Column<Row> => ({
        id: basis,
        heading: basisWords[basis],
        hint: words('How many of its claims are that of the order, to the cent, before or after refunds.'),
        value: row => Math.max(row.fits[basis].before, row.fits[basis].after),
        cell: row => {
          const most = Math.max(row.fits[basis].before, row.fits[basis].after)
          return `${count(most)} · ${percent(ratio(most, row.pairs))}`
        },
      }),
    ),
    {
      id: 'best',
      heading: 'it seems to report',
      hint: 'The amount that more than half of its claims are.',
      words: true,
      value: ({ best }) => (best === null ? UNKNOWN : `${basisWords[best.basis]}, ${best.refunds} refunds`),
    },
    {
      id: 'differs',
      heading: `its sum less ours, ${currency}`,
      hint: 'What its claims come to, less what the same orders come to by that amount.',
      value: row => row.claimed - row.booked,
      cell: row => money(row.claimed - row.booked),
      as: 'amount',
    },
  ]
  return (
    <Section title="Which amount each network reports">
      <DataTable
        label="Amounts by network"
        columns={columns}
        rows={amounts}
        rowId={row => row.network}
        tools
      />
      <Note>
        {words(
          'Only of networks that list their claims: a day’s sum does not say what each order was worth. Where a network reports another amount, its ROAS is of another amount too.',
        )}
      </Note>
    </Section>
  )
}
