'use client'
import { Box, Button, Flex, Text, Textarea } from '@chakra-ui/react'
import { useState, useTransition } from 'react'
import type { UnfitName } from '@/core/links/naming'
import { count } from '../format'
import { PartNav } from '../parts/PartNav'
import { useNetworkName } from '../shell/NetworkNames'
import { levelWords, NamingRuleForm, patternOf, type Rule, type RuleActions } from './NamingRuleForm'
import { UnfitNames } from './UnfitNames'

interface NamesActions extends RuleActions {
  saveHosts: (hosts: string[]) => Promise<string | null>
}

/** Names: rules by which campaigns, ad sets and ads are named, what does not keep to them, and how it would. */
export function NamesScreen({
  rules,
  read,
  unfitCount,
  unfit,
  networks,
  hosts,
  actions,
}: {
  rules: readonly Rule[]
  /** names that have a rule, those of them that do not keep to it, and the first of these */
  read: number
  unfitCount: number
  unfit: readonly UnfitName[]
  networks: readonly { id: string; name: string }[]
  hosts: readonly string[]
  actions: NamesActions
}) {
  const networkName = useNetworkName()
  const [editing, setEditing] = useState<Rule | null>(null)
  const [gone, setGone] = useState<Rule | null>(null)
  const bringBack = async () => {
    if (!gone) return
    const { id, ...own } = gone
    if ((await actions.save(id, own)) === null) setGone(null)
  }
  const blank: Rule = {
    id: '',
    level: 'campaign',
    networks: [],
    separator: '_',
    parts: [
      { name: 'product', kind: 'text', values: [] },
      { name: 'audience', kind: 'text', values: [] },
      { name: 'month', kind: 'month', values: [] },
    ],
  }
  return (
    <Flex height="100%">
      <Box px="5" pt="4" pb="8" flex="1" minWidth="0" overflowY="auto">
        <PartNav here="/links/names" />
        <Text as="h1" fontSize="19px">
          {rules.length === 0
            ? 'No rule says yet how campaigns are named. With one, slips in names are found when they come in, and Weigh can group by their parts.'
            : unfitCount === 0
              ? `All ${count(read)} names keep to their rule.`
              : `${count(unfitCount)} of ${count(read)} names ${unfitCount === 1 ? 'does' : 'do'} not keep to their rule.`}
        </Text>
        <Flex gap="2" mt="3" wrap="wrap" fontSize="13px">
          {rules.map(rule => (
            <Button key={rule.id} onClick={() => setEditing(rule)}>
              {levelWords[rule.level]}: <b>{patternOf(rule)}</b>
              {rule.networks.length > 0 && ` at ${rule.networks.map(networkName).join(', ')}`}
            </Button>
          ))}
          <Button onClick={() => setEditing(blank)}>New rule</Button>
        </Flex>
        {gone && (
          <Text mt="2" fontSize="13px" role="status">
            The rule {patternOf(gone)} is taken away.{' '}
            <Button variant="plain" onClick={() => void bringBack()}>
              Bring it back
            </Button>
          </Text>
        )}
        {unfit.length > 0 && <UnfitNames names={unfit} />}
        {unfitCount > unfit.length && (
          <Text color="quiet" fontSize="13px">
            The first {count(unfit.length)} are shown.
          </Text>
        )}
        <Hosts hosts={hosts} save={actions.saveHosts} />
      </Box>
      {editing && (
        <NamingRuleForm
          key={editing.id}
          from={editing}
          networks={networks}
          actions={actions}
          dropped={() => setGone(editing)}
          close={() => setEditing(null)}
        />
      )}
    </Flex>
  )
}

function Hosts({ hosts, save }: { hosts: readonly string[]; save: NamesActions['saveHosts'] }) {
  const [text, setText] = useState(hosts.join('\n'))
  const [said, setSaid] = useState('')
  const [busy, start] = useTransition()
  return (
    <Box as="section" mt="6" maxWidth="34rem" fontSize="13px" aria-label="Hosts">
      <Text as="h2" fontSize="15px" fontWeight="650">
        Hosts that ads may lead to
      </Text>
      <Text color="quiet">
        One a line. Try it asks these and no other. A link to any other is a finding, unless none is listed.
      </Text>
      <Textarea
        aria-label="Hosts that ads may lead to"
        rows={3}
        style={{ height: 'auto', fontFamily: 'var(--chakra-fonts-mono)', fontSize: 12 }}
        value={text}
        onChange={e => setText(e.target.value)}
      />
      <Button
        disabled={busy}
        onClick={() => start(async () => setSaid((await save(text.split(/\s+/))) ?? 'Kept.'))}
      >
        Keep the hosts
      </Button>{' '}
      <Text as="span" role="status" color={said === 'Kept.' ? 'quiet' : 'alarm'}>
        {said}
      </Text>
    </Box>
  )
}
