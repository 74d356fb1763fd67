'use client'
import { Box, Flex, Text } from '@chakra-ui/react'
import { useState, useTransition } from 'react'
import type { TagCode } from '@/core/signals/tagCode'
import type { HandOff } from '@/server/signals/handOff'
import { count } from '../format'
import { whereWords } from './ruleWords'
import { SignalsNav } from './SignalsNav'

type Save = (network: string, account: string, code: TagCode) => Promise<string | null>

/** The hand-off: the exact code to place, where and in which order, for whoever looks after the site. */
export function HandOffScreen({ handOff: { tag, rules, networks }, save }: { handOff: HandOff; save: Save }) {
  const ready = networks.filter(n => n.base !== '')
  return (
    <Box px="5" pt="4" pb="8" maxWidth="66rem">
      <SignalsNav here="/signals/hand-off" />
      <Text as="h1" fontSize="19px">
        One tag on every page
        {ready.length > 0 ? `, and the own code of ${ready.map(n => n.name).join(', ')}` : ''}: give this
        sheet to whoever looks after the site.
      </Text>
      <Flex gap="2" mt="2" fontSize="13px" className="no-print">
        <button type="button" className="field press" onClick={() => window.print()}>
          Print the sheet
        </button>
        <a className="field press" href="/api/hand-off" download>
          As a Markdown file
        </a>
      </Flex>
      <Step
        number={1}
        title="Aequant’s tag, on every page"
        where="In the head, once. Most shop systems, tag managers and page builders have a field for code in the head of all pages."
      >
        <Code text={tag} />
        <Text fontSize="13px" color="quiet">
          {count(rules)} {rules === 1 ? 'rule runs' : 'rules run'} in it. New rules need no change of the
          site.
        </Text>
      </Step>
      {ready.map((network, i) => (
        <Step
          key={network.id}
          number={i + 2}
          title={`${network.name}’s base code, account ${network.account}`}
          where="In the head of every page, after the tag above."
        >
          <Code text={network.base} />
          {network.events.map(event => (
            <Box key={event.slot} mt="2">
              <Text fontSize="13px">
                {event.result}, which {network.name} calls {event.slot}:{' '}
                {event.where ? `only on ${whereWords(event.where)}` : 'where it comes about'}, after the base
                code, without repeating it. The shop puts its own values where braces stand.
              </Text>
              <Code text={event.code} />
            </Box>
          ))}
        </Step>
      ))}
      <Box as="section" mt="6" className="no-print">
        <Text as="h2" fontSize="16px" fontWeight="650">
          A network’s own code
        </Text>
        <Text fontSize="13px" color="quiet" maxWidth="52rem">
          Paste what the network gives its customers. Write {'{account}'} where your account stands; in the
          event code {'{event}'}, {'{value}'}, {'{currency}'} and {'{transaction}'}. The sheet above and the
          page check then know it.
        </Text>
        {networks.map(network => (
          <OwnCode key={network.id} network={network} save={save} />
        ))}
      </Box>
    </Box>
  )
}

function Step({
  number,
  title,
  where,
  children,
}: {
  number: number
  title: string
  where: string
  children: React.ReactNode
}) {
  return (
    <Box as="section" mt="5" borderTopWidth="1px" borderColor="hairline" pt="3">
      <Text as="h2" fontSize="16px" fontWeight="650">
        {number}. {title}
      </Text>
      <Text fontSize="13px" mb="1">
        {where}
      </Text>
      {children}
    </Box>
  )
}

function Code({ text }: { text: string }) {
  const [copied, setCopied] = useState(false)
  return (
    <Flex gap="2" align="start" mt="1">
      <Box
        as="pre"
        flex="1"
        bg="sheet"
        px="2"
        py="1"
        fontFamily="mono"
        fontSize="12px"
        whiteSpace="pre-wrap"
        wordBreak="break-all"
      >
        {text}
      </Box>
      <button
        type="button"
        className="field press no-print"
        onClick={() => void navigator.clipboard.writeText(text).then(() => setCopied(true))}
      >
        {copied ? 'Copied' : 'Copy'}
      </button>
    </Flex>
  )
}

function OwnCode({ network, save }: { network: HandOff['networks'][number]; save: Save }) {
  const [account, setAccount] = useState(network.account ?? '')
  const [base, setBase] = useState(network.code?.base ?? '')
  const [event, setEvent] = useState(network.code?.event ?? '')
  const [said, setSaid] = useState('')
  const [busy, start] = useTransition()
  const lacks =
    base !== '' && !base.includes('{account}')
      ? 'The base code has no {account}: it would be the same for everybody.'
      : ''
  return (
    <Box as="details" mt="2" fontSize="13px">
      <summary>
        {network.name} {network.base ? '· in the sheet' : ''}
      </summary>
      <Flex direction="column" gap="2" mt="1" maxWidth="52rem">
        <input
          className="field"
          aria-label={`Account at ${network.name}`}
          placeholder="account or pixel ID"
          value={account}
          onChange={e => setAccount(e.target.value)}
        />
        <textarea
          className="field"
          style={{ height: 'auto', fontFamily: 'monospace' }}
          rows={3}
          aria-label={`Base code of ${network.name}`}
          placeholder={"<script>…('{account}')</script>"}
          value={base}
          onChange={e => setBase(e.target.value)}
        />
        <textarea
          className="field"
          style={{ height: 'auto', fontFamily: 'monospace' }}
          rows={2}
          aria-label={`Event code of ${network.name}`}
          placeholder="…('{event}', { value: {value}, currency: '{currency}', id: '{transaction}' })"
          value={event}
          onChange={e => setEvent(e.target.value)}
        />
        <Flex gap="2" align="center">
          <button
            type="button"
            className="field press"
            disabled={busy}
            onClick={() =>
              start(async () =>
                setSaid(
                  (await save(network.id, account, { base, event, requests: network.code?.requests })) ??
                    'Kept.',
                ),
              )
            }
          >
            Keep the code of {network.name}
          </button>
          <Text color={lacks ? 'alarm' : 'quiet'} aria-live="polite">
            {lacks || said}
          </Text>
        </Flex>
      </Flex>
    </Box>
  )
}
