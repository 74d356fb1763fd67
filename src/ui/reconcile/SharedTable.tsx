'use client'
import { Text } from '@chakra-ui/react'
import type { ReconcileView } from '@/server/compute/views/reconcile'
import { useFormats } from '../format'
import { Note, Section } from '../parts/Page'
import type { Column } from '../parts/table/columns'
import { DataTable } from '../parts/table/DataTable'
import { useNetworkName } from '../shell/NetworkNames'
import { useResultWords } from '../shell/ResultWords'

/** Which networks claim the same orders, each with each. */
export function SharedTable({ shared, got }: Pick<ReconcileView, 'shared' | 'got'>) {
  const { count, tenths, money, currency } = useFormats()
  const networkName = useNetworkName()
  const words = useResultWords()
  const networks = [...new Set(shared.pairs.flatMap(pair => pair.networks))].sort()
  if (networks.length === 0) return null
  const pairOf = (a: string, b: string) =>
    shared.pairs.find(
      ({ networks: [first, second] }) => (first === a && second === b) || (first === b && second === a),
    )
  const columns: Column<string>[] = [
    { id: 'network', words: true, value: networkName },
    ...networks.map(
      (other): Column<string> => ({
        id: other,
        heading: networkName(other),
        hint: `Orders that ${networkName(other)} and another network both claim.`,
        value: one => pairOf(one, other)?.orders ?? null,
        cell: one => {
          const pair = pairOf(one, other)
          if (one === other) return ''
          if (!pair) return '0'
          if (!pair.range) return `${count(pair.orders)} · ${money(pair.value)}`
          return (
            <>
              ≈ {count(Math.round(pair.orders))} · {money(Math.round(pair.value))}{' '}
              <Text as="span" color="quiet" fontSize="12px">
                {count(Math.round(pair.range.low))} – {count(Math.round(pair.range.high))}
              </Text>
            </>
          )
        },
      }),
    ),
  ]
  return (
    <Section title="Claimed by several networks">
      <Note>
        {words(
          `Networks claim ${count(shared.claimed)} orders by click, ${count(shared.claims)} times in all; ads really brought ${got ? `an estimated ${tenths(got.orders)} (${tenths(got.low)} – ${tenths(got.high)})` : 'none that is known'}.`,
        )}{' '}
        {words(
          `Each cell: orders that both claim by click, and what they are worth in ${currency}; ≈ where one of them only sums its claims by day: estimated from orders that follow clicks of both, with its range.`,
        )}
      </Note>
      <DataTable
        label="Orders that two networks claim"
        columns={columns}
        rows={networks}
        rowId={one => one}
        tools
      />
    </Section>
  )
}
