'use client'
import { Box, Button, Text } from '@chakra-ui/react'
import dynamic from 'next/dynamic'
import { useState } from 'react'
import type { UnfitName } from '@/core/links/naming'
import { useFormats } from '../format'
import { LongTextField } from '../parts/Fields'
import { Note, Page } from '../parts/Page'
import { undoable } from '../parts/undo'
import { useSending } from '../parts/useSending'
import { useNetworkName } from '../shell/NetworkNames'
import type { Rule, RuleActions } from './NamingRuleForm'
import { levelWords, patternOf } from './nameWords'
import { UnfitNames } from './UnfitNames'

const NamingRuleForm = dynamic(() => import('./NamingRuleForm').then(m => m.NamingRuleForm), { ssr: false })

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
  const { count } = useFormats()
  const networkName = useNetworkName()
  const [editing, setEditing] = useState<Rule | null>(null)
  const bringsBack = (gone: Rule) =>
    undoable(`The rule ${patternOf(gone)} is taken away.`, () => {
      const { id, ...own } = gone
      return actions.save(id, own)
    })
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
    <Page
      at="/links/names"
      says={
        rules.length === 0
          ? 'No rule says yet how campaigns are named. With one, slips in names are found when they come in, and Weigh can group by their parts.'
          : unfitCount === 0
            ? `All ${count(read)} names keep to their rule.`
            : `${count(unfitCount)} of ${count(read)} names ${unfitCount === 1 ? 'does' : 'do'} not keep to their rule.`
      }
      actions={
        <>
          {rules.map(rule => (
            <Button key={rule.id} onClick={() => setEditing(rule)}>
              {levelWords[rule.level]}: <b>{patternOf(rule)}</b>
              {rule.networks.length > 0 && ` at ${rule.networks.map(networkName).join(', ')}`}
            </Button>
          ))}
          <Button onClick={() => setEditing(blank)}>New rule</Button>
        </>
      }
      beside={
        editing && (
          <NamingRuleForm
            key={editing.id}
            from={editing}
            networks={networks}
            actions={actions}
            dropped={() => bringsBack(editing)}
            close={() => setEditing(null)}
          />
        )
      }
    >
      {unfit.length > 0 && <UnfitNames names={unfit} />}
      {unfitCount > unfit.length && <Note>The first {count(unfit.length)} are shown.</Note>}
      <Hosts hosts={hosts} save={actions.saveHosts} />
    </Page>
  )
}

function Hosts({ hosts, save }: { hosts: readonly string[]; save: NamesActions['saveHosts'] }) {
  const [text, setText] = useState(hosts.join('\n'))
  const [said, setSaid] = useState('')
  const [busy, send] = useSending()
  return (
    <Box as="section" mt="6" maxWidth="34rem" fontSize="13px" aria-label="Hosts">
      <Text as="h2" fontSize="15px" fontWeight="650">
        Hosts that ads may lead to
      </Text>
      <Text color="quiet">
        One a line. Try it asks these and no other. A link to any other is a finding, unless none is listed.
      </Text>
      <LongTextField unseen mono label="Hosts that ads may lead to" rows={3} value={text} change={setText} />
      <Button
        disabled={busy}
        onClick={() => send(async () => setSaid((await save(text.split(/\s+/))) ?? 'Kept.'))}
      >
        Keep the hosts
      </Button>{' '}
      <Text as="span" role="status" color={said === 'Kept.' ? 'quiet' : 'alarm'}>
        {said}
      </Text>
    </Box>
  )
}
