'use client'
import type { UnfitName } from '@/core/links/naming'
import { UNKNOWN } from '../format'
import { DataTable } from '../parts/table/DataTable'
import { Mono } from '../parts/WordLink'
import { useNetworkName } from '../shell/NetworkNames'
import { nameProblemWords } from './nameWords'

/** Names that do not keep to their rule, what is wrong with each, and how it would be right. */
export function UnfitNames({ names }: { names: readonly UnfitName[] }) {
  const networkName = useNetworkName()
  return (
    <DataTable
      label="Names that do not fit"
      columns={[
        { id: 'name', words: true, wraps: true, value: n => n.name },
        { id: 'network', words: true, pick: true, value: n => networkName(n.network) },
        {
          id: 'wrong',
          heading: 'what does not fit',
          words: true,
          wraps: true,
          value: n => nameProblemWords(n.problems),
        },
        {
          id: 'right',
          heading: 'it would be',
          words: true,
          value: n => n.proposal ?? null,
          cell: n => (n.proposal ? <Mono>{n.proposal}</Mono> : UNKNOWN),
        },
      ]}
      rows={names}
      rowId={n => `${n.network}/${n.level}/${n.id}`}
    />
  )
}
