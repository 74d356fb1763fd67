'use client'
import { Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import type { NetworkProfile } from '@/core/links/profile'
import type { GatheredArrivals } from '@/server/links/arrivals'
import type { Assigned } from '@/server/links/unknownValues'
import { useFormats } from '../format'
import { AskButton } from '../parts/AskButton'
import { TextField } from '../parts/Fields'
import { Section } from '../parts/Page'
import type { Column } from '../parts/table/columns'
import { DataTable } from '../parts/table/DataTable'
import { useSending } from '../parts/useSending'
import { Mono } from '../parts/WordLink'
import { levelName } from './linkWords'

type Unknown = GatheredArrivals['unknown'][number]
/** Says what a value means: how many clicks are read by it, or why it cannot be. */
export type AssignValue = (
  given: Pick<Unknown, 'network' | 'level' | 'value'> & { called: string },
) => Promise<Assigned>

/** Values of ad clicks that match no campaign, ad set or ad; each is assigned once. */
export function UnknownValues({
  values,
  profiles,
  assign,
  assigned,
}: {
  values: readonly Unknown[]
  profiles: readonly NetworkProfile[]
  assign: AssignValue
  assigned: () => void
}) {
  const { count, instant } = useFormats()
  const profileOf = (network: string) => profiles.find(p => p.id === network)
  const columns: Column<Unknown>[] = [
    { id: 'network', words: true, width: 130, value: v => profileOf(v.network)?.name ?? v.network },
    {
      id: 'value',
      words: true,
      width: 260,
      value: v => v.value,
      cell: v => <Mono>{v.value}</Mono>,
    },
    { id: 'clicks', value: v => v.clicks, cell: v => count(v.clicks) },
    {
      id: 'last',
      heading: 'last click',
      words: true,
      width: 130,
      value: v => v.last,
      cell: v => instant(v.last),
    },
    {
      id: 'assign',
      heading: 'assign to',
      words: true,
      width: 420,
      value: () => '',
      cell: v => (
        <Assign
          key={v.value}
          unknown={v}
          profile={profileOf(v.network)}
          assign={assign}
          assigned={assigned}
        />
      ),
    },
  ]
  return (
    <Section title="Values that match no ad">
      <Text color="quiet" mb="1" maxWidth="70ch">
        These clicks count for their network or campaign only. Assign a value once, and its clicks and orders
        are read by it from then on. A report that names the ad does the same.
      </Text>
      <DataTable
        label="Values that match no ad"
        columns={columns}
        rows={values}
        rowId={v => `${v.network} ${v.level} ${v.value}`}
      />
    </Section>
  )
}

function Assign({
  unknown: { network, level, value, clicks },
  profile,
  assign,
  assigned,
}: {
  unknown: Unknown
  profile: NetworkProfile | undefined
  assign: AssignValue
  assigned: () => void
}) {
  const { count } = useFormats()
  const [called, setCalled] = useState('')
  const [problem, setProblem] = useState<string | null>(null)
  const [busy, send] = useSending()
  const what = profile ? levelName(profile, level) : level
  const save = () =>
    send(async () => {
      const done = await assign({ network, level, value, called })
      if ('clicks' in done) assigned()
      else
        setProblem(
          done.problem === 'unknown'
            ? `No ${what} has this name or ID.`
            : `More than one ${what} has this name. Enter its ID.`,
        )
    })
  return (
    <Flex gap="2" align="center">
      <TextField
        unseen
        label={`Name or ID of the ${what} for ${value}`}
        placeholder={`name or ID of the ${what}`}
        width="190px"
        value={called}
        problem={problem ?? undefined}
        change={text => {
          setCalled(text)
          setProblem(null)
        }}
      />
      <AskButton
        disabled={busy || called.trim() === ''}
        act={save}
        asks={`${count(clicks)} clicks with “${value}” become clicks of this ${what}.`}
      >
        Assign
      </AskButton>
    </Flex>
  )
}
