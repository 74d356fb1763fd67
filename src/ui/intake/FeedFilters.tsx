'use client'
import { Button, Flex } from '@chakra-ui/react'
import type { ReactNode } from 'react'
import { type ArrivalFilter, arrivalProblems } from '@/core/intake/arrivalFilter'
import { Select } from '../parts/Fields'
import { useNetworkName } from '../shell/NetworkNames'
import { useScope } from '../shell/useScope'
import { arrivalKinds, kindsInOrder, problemWords } from './arrivalKinds'

export interface FeedChoices {
  campaigns: { network: string; id: string; name: string }[]
  results: string[]
}

/** What of the arrivals is looked at; it lives in the address. */
export function FeedFilters({
  filter,
  choices,
  children,
}: {
  filter: ArrivalFilter
  choices: FeedChoices
  children: ReactNode
}) {
  const networkName = useNetworkName()
  const { set } = useScope()
  return (
    <Flex gap="2" mt="2" align="center" fontSize="13px">
      {([null, ...kindsInOrder] as const).map(kind => (
        <Button
          key={kind}
          aria-pressed={filter.kind === kind}
          fontWeight={filter.kind === kind ? 700 : 400}
          onClick={() => set({ kind })}
        >
          {kind === null ? 'everything' : arrivalKinds[kind].many}
        </Button>
      ))}
      <Select
        aria-label="Campaign"
        style={{ maxWidth: 130 }}
        value={filter.campaign && filter.network ? `${filter.network}/${filter.campaign}` : ''}
        onChange={event => {
          const [network = '', campaign = ''] = event.target.value.split(/\/(.*)/s)
          set(campaign ? { network, campaign } : { campaign: null })
        }}
      >
        <option value="">any campaign</option>
        {choices.campaigns.map(c => (
          <option key={`${c.network}/${c.id}`} value={`${c.network}/${c.id}`}>
            {networkName(c.network)}: {c.name}
          </option>
        ))}
      </Select>
      <Select
        aria-label="Result"
        value={filter.result ?? ''}
        onChange={event => set({ result: event.target.value })}
      >
        <option value="">any result</option>
        {choices.results.map(result => (
          <option key={result}>{result}</option>
        ))}
      </Select>
      <Select
        aria-label="Problem"
        style={{ maxWidth: 130 }}
        value={filter.problem ?? ''}
        onChange={event => set({ problem: event.target.value })}
      >
        <option value="">well or not</option>
        <option value="any">any problem</option>
        {arrivalProblems.map(problem => (
          <option key={problem} value={problem}>
            {problemWords[problem]}
          </option>
        ))}
      </Select>
      {children}
    </Flex>
  )
}
