'use client'
import { Button, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import type { NetworkProfile } from '@/core/links/profile'
import type { GatheredArrivals } from '@/server/links/arrivals'
import { SelectField } from '../parts/Fields'
import { Section } from '../parts/Page'
import { useSending } from '../parts/useSending'
import { levelName } from './linkWords'

type Undecided = GatheredArrivals['undecided'][number]
/** Says which of several a new ad is. Gives what is wrong, or null when it is done. */
export type JoinNew = (
  chosen: Pick<Undecided, 'network' | 'level' | 'id'> & { real: string },
) => Promise<string | null>

/** New campaigns, ad sets and ads without an ID, of whose name and place a report has named several. */
export function UndecidedAds({
  undecided,
  profiles,
  join,
  joined,
}: {
  undecided: readonly Undecided[]
  profiles: readonly NetworkProfile[]
  join: JoinNew
  joined: () => void
}) {
  return (
    <Section title="New ads without an ID">
      <Text color="quiet" mb="2" maxWidth="70ch">
        A report names more than one of this name and place. Choose which one you added; its plan, link and
        clicks move to that ID.
      </Text>
      {undecided.map(one => (
        <Choice
          key={`${one.network} ${one.level} ${one.id}`}
          undecided={one}
          profile={profiles.find(p => p.id === one.network)}
          join={join}
          joined={joined}
        />
      ))}
    </Section>
  )
}

function Choice({
  undecided: { network, level, id, name, fits },
  profile,
  join,
  joined,
}: {
  undecided: Undecided
  profile: NetworkProfile | undefined
  join: JoinNew
  joined: () => void
}) {
  const [real, setReal] = useState('')
  const [problem, setProblem] = useState('')
  const [busy, send] = useSending()
  const what = profile ? levelName(profile, level) : level
  return (
    <Flex gap="2" align="center" mt="1" wrap="wrap">
      <Text minWidth="220px">
        {name}{' '}
        <Text as="span" color="quiet">
          {what}, {profile?.name ?? network}
        </Text>
      </Text>
      <SelectField
        unseen
        label={`ID of the ${what} ${name}`}
        width="320px"
        value={real}
        change={setReal}
        choices={[
          ['', 'choose its ID'],
          ...fits.map(
            one =>
              [
                one.id,
                level === 'campaign'
                  ? one.id
                  : `${one.id} · ${[one.campaign, level === 'ad' && one.adSet].filter(Boolean).join(' › ')}`,
              ] as const,
          ),
        ]}
      />
      <Button
        disabled={busy || real === ''}
        onClick={() =>
          send(async () => {
            const wrong = await join({ network, level, id, real })
            setProblem(wrong ?? '')
            if (wrong === null) joined()
          })
        }
      >
        Apply
      </Button>
      <Text color="alarm" role="status">
        {problem}
      </Text>
    </Flex>
  )
}
