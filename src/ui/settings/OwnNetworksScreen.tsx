'use client'
import { Button } from '@chakra-ui/react'
import { useRouter } from 'next/navigation'
import { useState } from 'react'
import { levelsOf, spellings } from '@/core/links/profile'
import type { KnownNetwork } from '@/server/networks'
import { UNKNOWN } from '../format'
import { levelName } from '../links/linkWords'
import { type BeginNetwork, StartNetwork } from '../networks/StartNetwork'
import { AskButton } from '../parts/AskButton'
import { EmptyState } from '../parts/EmptyState'
import { Page, Said } from '../parts/Page'
import type { Column } from '../parts/table/columns'
import { DataTable } from '../parts/table/DataTable'
import { Mono, WordLink } from '../parts/WordLink'

const profileAt = (id: string) => `/links/profiles?profile=${encodeURIComponent(id)}`

/** The networks at which ads are bought: what is known of each, and what is held of it. */
export function OwnNetworksScreen({
  networks,
  begin,
  takeOut,
}: {
  networks: readonly KnownNetwork[]
  begin: BeginNetwork
  takeOut: (id: string) => Promise<string | null>
}) {
  /** that a network is being begun, or the ID that reports name */
  const [open, setOpen] = useState<true | string | null>(null)
  const [problem, setProblem] = useState('')
  const router = useRouter()
  const nameless = networks.filter(n => !n.profile)
  const columns: Column<KnownNetwork>[] = [
    {
      id: 'network',
      words: true,
      value: n => n.name,
      cell: n => (n.profile ? <WordLink href={profileAt(n.id)}>{n.name}</WordLink> : n.name),
    },
    {
      id: 'levels',
      words: true,
      value: ({ profile }) =>
        profile
          ? levelsOf(profile)
              .filter(level => level !== 'account')
              .map(level => levelName(profile, level))
              .join(' › ')
          : 'not described',
    },
    {
      id: 'writes',
      heading: 'writes a value as',
      words: true,
      value: ({ profile }) => (profile && spellings(profile.dialect)[0]?.[0]) ?? UNKNOWN,
      cell: ({ profile }) => <Mono>{(profile && spellings(profile.dialect)[0]?.[0]) ?? UNKNOWN}</Mono>,
    },
    { id: 'ads', value: n => n.ads },
    { id: 'first', heading: 'spend from', as: 'day', words: true, value: n => n.first },
    { id: 'last', heading: 'up to', as: 'day', words: true, value: n => n.last },
    { id: 'claims', words: true, value: n => (n.claims ? 'here' : 'none') },
    { id: 'clicks', heading: 'clicks seen', value: n => n.clicks },
    {
      id: 'do',
      heading: 'describe or take out',
      words: true,
      value: () => null,
      copied: () => '',
      cell: n =>
        n.profile ? (
          <AskButton
            asks={`${n.name} leaves with its data sheet. It stays where ads, spend, claims or clicks of it are held.`}
            act={() => void takeOut(n.id).then(wrong => setProblem(wrong ?? ''))}
          >
            Take out
          </AskButton>
        ) : (
          <Button size="xs" onClick={() => setOpen(n.id)}>
            Describe it
          </Button>
        ),
    },
  ]
  return (
    <Page
      at="/settings/networks"
      says={
        networks.length === 0
          ? 'No network is named yet. Name those at which you buy ads: the rest can follow.'
          : `Ads are bought at ${networks.length} ${networks.length === 1 ? 'network' : 'networks'}${nameless.length > 0 ? `; reports name ${nameless.map(n => n.name).join(', ')}, which nobody has described` : ''}.`
      }
      actions={
        <Button variant="solid" onClick={() => setOpen(true)}>
          New network
        </Button>
      }
      beside={
        open !== null && (
          <StartNetwork
            key={String(open)}
            begin={begin}
            {...(open === true ? {} : { described: open })}
            made={id => {
              if (open === true) router.push(profileAt(id))
            }}
            close={() => setOpen(null)}
          />
        )
      }
    >
      <Said alarm>{problem}</Said>
      {networks.length === 0 ? (
        <EmptyState>
          A network of links is described by a data sheet: how it writes dynamic values, its levels, its
          windows, the columns of its reports. Sheets can be carried as JSON, under Links, Profiles.
        </EmptyState>
      ) : (
        <DataTable label="Networks" columns={columns} rows={networks} rowId={n => n.id} main />
      )}
    </Page>
  )
}
