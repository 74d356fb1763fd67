'use client'
import { Button, Flex } from '@chakra-ui/react'
import type { ReactNode } from 'react'
import { type ArrivalFilter, arrivalProblems } from '@/core/intake/arrivalFilter'
import { SelectField } from '../parts/Fields'
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
      <SelectField
        unseen
        width="130px"
        label="Campaign"
        value={filter.campaign && filter.network ? `${filter.network}/${filter.campaign}` : ''}
        change={chosen => {
          const [network = '', campaign = ''] = chosen.split(/\/(.*)/s)
          set(campaign ? { network, campaign } : { campaign: null })
        }}
        choices={[
          ['', 'any campaign'],
          ...choices.campaigns.map(
            c => [`${c.network}/${c.id}`, `${networkName(c.network)}: ${c.name}`] as const,
          ),
        ]}
      />
      <SelectField
        unseen
        label="Result"
        value={filter.result ?? ''}
        change={result => set({ result })}
        choices={[['', 'any result'], ...choices.results.map(result => [result, result] as const)]}
      />
      <SelectField
        unseen
        width="130px"
        label="Problem"
        value={filter.problem ?? ''}
        change={problem => set({ problem })}
        choices={[
          ['', 'well or not'],
          ['any', 'any problem'],
          ...arrivalProblems.map(problem => [problem, problemWords[problem]] as const),
        ]}
      />
      {children}
    </Flex>
  )
}
