'use client'
import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import type { ApartGroup } from '@/core/signals/apart'
import type { Unusual } from '@/core/signals/limits'
import type { Misfit } from '@/core/signals/mayTell'
import { useFormats } from '../format'
import { Said } from '../parts/Page'
import { useSending } from '../parts/useSending'
import { useNetworkName } from '../shell/NetworkNames'
import { useResultName } from '../shell/ResultWords'

/** Why something is kept out of the figures. */
const reasons: Record<Unusual | Misfit | 'not_followed', string> = {
  value_unseen: 'Their value is more than three times the highest of the last 28 days.',
  no_visit: 'Their browsers opened no page of the site before.',
  many_of_click: 'One click brought several of them on one day.',
  many_of_class: 'One network address sent far more than on any day before, and opened hardly a page.',
  many_in_minute: 'Far more came within one minute than in any minute before.',
  many_of_agent: 'One browser version sent far more than on any day before.',
  many_of_page: 'One page sent far more than on any day before.',
  no_such_rule: 'They name a rule that does not exist.',
  other_result: 'They name a rule of another result.',
  other_host: 'They come from a page that is on none of your hosts.',
  other_page: 'They come from a page that their rule does not mean.',
  not_followed: 'One network address sent many clicks, and none of them reached the site.',
}

type Group = Pick<ApartGroup, 'kind' | 'of' | 'reason' | 'day'>

/** What browsers reported that is out of the ordinary, day by day: in no figure until somebody decides. */
export function ApartPart({
  groups,
  decide,
}: {
  groups: ApartGroup[]
  decide: (group: Group, counts: boolean) => Promise<string>
}) {
  const { count, day, instant, zone } = useFormats()
  const networkName = useNetworkName()
  const resultName = useResultName()
  const [said, setSaid] = useState('')
  const [busy, send] = useSending()
  if (groups.length === 0 && said === '') return null
  const act = ({ kind, of, reason, day: on }: ApartGroup, counts: boolean) =>
    send(async () => setSaid(await decide({ kind, of, reason, day: on }, counts)))
  return (
    <Box
      as="section"
      aria-label="Left out of the figures"
      borderTopWidth="2px"
      borderColor="hairline"
      mt="5"
      pt="3"
    >
      <Text as="h2" fontSize="15px" fontWeight="650">
        Left out of the figures until you decide
      </Text>
      <Text fontSize="13px" color="quiet" maxWidth="62rem">
        Anybody can send events and open links. What is out of the ordinary is stored and does not count.
      </Text>
      <Said busy={busy && 'Saving …'}>{said}</Said>
      {groups.map(group => (
        <Box key={`${group.kind} ${group.of} ${group.reason} ${group.day}`} mt="3" maxWidth="62rem">
          <Text fontSize="14px">
            <strong>
              {day(group.day)}: {count(group.count)}{' '}
              {group.kind === 'click'
                ? `${group.count === 1 ? 'click' : 'clicks'} of ${networkName(group.of)}`
                : `× ${resultName(group.of)}`}
            </strong>{' '}
            {reasons[group.reason as keyof typeof reasons] ?? group.reason}
          </Text>
          <Text fontSize="13px" color="quiet">
            {instant(group.first)} – {instant(group.last)} {zone} · {count(group.senders)}{' '}
            {group.senders === 1 ? 'network address' : 'network addresses'}, {count(group.agents)}{' '}
            {group.agents === 1 ? 'browser' : 'browsers'}
            {group.page && ` · ${group.page}`}
          </Text>
          <Flex gap="2" mt="1.5">
            <Button disabled={busy} onClick={() => act(group, true)}>
              Count {count(group.count)}
            </Button>
            <Button disabled={busy} onClick={() => act(group, false)}>
              Leave {count(group.count)} out
            </Button>
          </Flex>
        </Box>
      ))}
    </Box>
  )
}
