'use client'
import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import type { DescribedNetwork, RelayLine } from '@/server/signals/networks'
import { between, count, instant } from '../format'
import { PartNav } from '../parts/PartNav'
import { useNetworkName } from '../shell/NetworkNames'
import { type NetworkActions, NetworkForm } from './NetworkForm'
import { relayWords } from './ruleWords'

/** How each network is told: its own code on the pages, and what our server sends it. */
export function NetworksScreen({
  networks,
  log,
  zone,
  now,
  actions,
}: {
  networks: DescribedNetwork[]
  log: RelayLine[]
  zone: string
  now: number
  actions: NetworkActions
}) {
  const [chosen, setChosen] = useState<string | null>(null)
  const byCode = networks.filter(n => n.setup.tag && n.setup.account)
  const byServer = networks.filter(n => n.setup.outgoing && n.setup.relayed_since)
  const refused = networks.reduce((sum, n) => sum + (n.sent.refused ?? 0), 0)
  const editing = networks.find(n => n.setup.id === chosen)
  return (
    <Flex height="100%">
      <Box flex="1" minWidth="0" overflowY="auto" px="5" pt="4" pb="8">
        <PartNav here="/signals/networks" />
        <Text as="h1" fontSize="19px" maxWidth="62rem">
          {byCode.length === 0
            ? 'No network hears of anything yet. Choose one, paste the code that it gives its customers, and map your results onto its events in Results.'
            : `${count(byCode.length)} networks hear by their own code${byServer.length > 0 ? `, ${count(byServer.length)} of them from the server too, under the same event ID: each counts once` : ''}.`}{' '}
          {refused > 0 && `${count(refused)} ${refused === 1 ? 'event was' : 'events were'} refused.`}
        </Text>
        <table className="ledger" style={{ marginTop: 12 }}>
          <thead>
            <tr>
              {['network', 'account', 'its code', 'server'].map(head => (
                <th key={head} scope="col" style={{ textAlign: 'left' }}>
                  {head}
                </th>
              ))}
              <th scope="col">taken</th>
              <th scope="col">waiting</th>
              <th scope="col">without its click</th>
              <th scope="col">refused</th>
              <th scope="col" aria-label="Again" />
            </tr>
          </thead>
          <tbody>
            {networks.map(({ setup, hasSecret, sent }) => (
              <tr key={setup.id} aria-selected={chosen === setup.id}>
                <th scope="row">
                  <Button variant="plain" style={{ fontWeight: 650 }} onClick={() => setChosen(setup.id)}>
                    {setup.name}
                  </Button>
                </th>
                <td style={{ textAlign: 'left' }}>{setup.account ?? '—'}</td>
                <td style={{ textAlign: 'left' }}>
                  {!setup.tag?.base
                    ? '—'
                    : setup.placed_by === 'tag'
                      ? 'placed by our tag'
                      : 'placed on the site'}
                </td>
                <td style={{ textAlign: 'left' }}>
                  {!setup.outgoing
                    ? '—'
                    : !setup.relayed_since
                      ? 'ready, off'
                      : hasSecret
                        ? 'on'
                        : 'on, no secret'}
                </td>
                {(['taken', 'waiting', 'no_click', 'refused'] as const).map(state => (
                  <td key={state}>{sent[state] ? count(sent[state]) : setup.outgoing ? '0' : '—'}</td>
                ))}
                <td>
                  {(sent.refused ?? 0) > 0 && (
                    <Button onClick={() => void actions.again(setup.id)}>Send again</Button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        <RelayLog log={log} zone={zone} now={now} />
      </Box>
      {editing && (
        <NetworkForm
          key={editing.setup.id}
          network={editing}
          save={actions.save}
          close={() => setChosen(null)}
        />
      )}
    </Flex>
  )
}

/** What the server told, the latest first, each with the networks' answers. */
function RelayLog({ log, zone, now }: { log: RelayLine[]; zone: string; now: number }) {
  const networkName = useNetworkName()
  if (log.length === 0)
    return (
      <Text fontSize="13px" color="quiet" mt="4" maxWidth="62rem">
        The server has told nothing yet. It sends each result and order to the networks whose server interface
        is on, once a shopper comes by one of their clicks.
      </Text>
    )
  return (
    <Box as="section" mt="5" aria-label="Told by the server">
      <Text as="h2" fontSize="16px" fontWeight="650">
        Told by the server
      </Text>
      <table className="ledger">
        <thead>
          <tr>
            {['when', 'network', 'result', 'event ID', 'state', 'the network’s answer'].map(head => (
              <th key={head} scope="col" style={{ textAlign: 'left' }}>
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {log.map(line => {
            const last = line.tries.at(-1)
            return (
              <tr key={`${line.network} ${line.event_id}`}>
                <td title={`${instant(line.at, zone)} ${zone}`} style={{ textAlign: 'left' }}>
                  {between(Math.max(0, now - line.at))} ago
                </td>
                <td style={{ textAlign: 'left' }}>{networkName(line.network)}</td>
                <td style={{ textAlign: 'left' }}>
                  {line.result}
                  {line.test && ' (test)'}
                </td>
                <td style={{ textAlign: 'left', fontFamily: 'var(--chakra-fonts-mono)', fontSize: 12 }}>
                  {line.event_id}
                </td>
                <td style={{ textAlign: 'left' }}>
                  {relayWords[line.state]}
                  {line.state === 'waiting' &&
                    line.tries.length > 0 &&
                    `, again in ${between(Math.max(0, line.nextAt - now))}`}
                </td>
                <td style={{ textAlign: 'left', whiteSpace: 'normal', wordBreak: 'break-word' }}>
                  {last
                    ? `${line.tries.length > 1 ? `${line.tries.length} tries; ` : ''}${last.status ?? 'no answer'}: ${last.said.slice(0, 160)}`
                    : '—'}
                </td>
              </tr>
            )
          })}
        </tbody>
      </table>
    </Box>
  )
}
