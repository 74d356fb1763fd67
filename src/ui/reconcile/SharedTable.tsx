'use client'
import type { ReconcileView } from '@/server/compute/views/reconcile'
import { useFormats } from '../format'
import { Note, Section } from '../parts/Page'
import type { Column } from '../parts/table/columns'
import { DataTable } from '../parts/table/DataTable'
import { useNetworkName } from '../shell/NetworkNames'
import { useResultWords } from '../shell/ResultWords'

/** Which networks claim the same orders, each with each. */
export function SharedTable({ shared }: { shared: ReconcileView['shared'] }) {
  const { count, money, currency } = useFormats()
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
          return (
            <span
              title={words(
                `${count(pair.certain)} of them by claims that are listed, the others by daily sums`,
              )}
            >
              {pair.certain < pair.orders && '≈ '}
              {count(pair.orders)} · {money(pair.value)}
            </span>
          )
        },
      }),
    ),
  ]
  return (
    <Section title="Claimed by several networks">
      <Note>
        {words(
          `Networks claim ${count(shared.claimed)} orders ${count(shared.claims)} times; ${count(shared.several)} of them more than one network does.`,
        )}{' '}
        {words(
          `Each cell: orders that both claim, and what they are worth in ${currency}; ≈ where one of them only sums its claims by day.`,
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
