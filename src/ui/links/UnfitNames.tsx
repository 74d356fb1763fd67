'use client'
import type { UnfitName } from '@/core/links/naming'
import { useNetworkName } from '../shell/NetworkNames'
import { nameProblemWords } from './nameWords'

/** Names that do not keep to their rule, what is wrong with each, and how it would be right. */
export function UnfitNames({ names }: { names: readonly UnfitName[] }) {
  const networkName = useNetworkName()
  return (
    <table className="ledger" style={{ marginTop: 12, maxWidth: '70rem' }}>
      <thead>
        <tr>
          <th>name</th>
          <th style={{ textAlign: 'left' }}>network</th>
          <th style={{ textAlign: 'left' }}>what does not fit</th>
          <th style={{ textAlign: 'left' }}>it would be</th>
        </tr>
      </thead>
      <tbody>
        {names.map(({ network, level, id, name, problems, proposal }) => (
          <tr key={`${network}/${level}/${id}`}>
            <td style={{ whiteSpace: 'normal', overflowWrap: 'anywhere' }}>{name}</td>
            <td style={{ textAlign: 'left' }}>{networkName(network)}</td>
            <td style={{ textAlign: 'left', whiteSpace: 'normal' }}>{nameProblemWords(problems)}</td>
            <td style={{ textAlign: 'left', fontFamily: 'var(--chakra-fonts-mono)', fontSize: 12 }}>
              {proposal ?? '—'}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
