'use client'
import { Button } from '@chakra-ui/react'
import dynamic from 'next/dynamic'
import { useState } from 'react'
import type { DescribedNetwork, RelayLine } from '@/server/signals/networks'
import { UNKNOWN, useFormats } from '../format'
import { Note, Page, Section } from '../parts/Page'
import type { Column } from '../parts/table/columns'
import { DataTable } from '../parts/table/DataTable'
import { useSending } from '../parts/useSending'
import { Mono } from '../parts/WordLink'
import { useNetworkName } from '../shell/NetworkNames'
import type { NetworkActions } from './NetworkForm'
import { relayWords } from './ruleWords'

const NetworkForm = dynamic(() => import('./NetworkForm').then(m => m.NetworkForm), { ssr: false })

/** How each network is told: its own code on the pages, and what our server sends it. */
export function NetworksScreen({
  networks,
  log,
  now,
  actions,
}: {
  networks: DescribedNetwork[]
  log: RelayLine[]
  now: number
  actions: NetworkActions
}) {
  const { count } = useFormats()
  const [chosen, setChosen] = useState<string | null>(null)
  const [busy, send] = useSending()
  const byCode = networks.filter(n => n.setup.tag && n.setup.account)
  const byServer = networks.filter(n => n.setup.outgoing && n.setup.relayed_since)
  const refused = networks.reduce((sum, n) => sum + (n.sent.refused ?? 0), 0)
  const editing = networks.find(n => n.setup.id === chosen)
  const columns: Column<DescribedNetwork>[] = [
    {
      id: 'network',
      words: true,
      value: n => n.setup.name,
      cell: ({ setup: { id, name } }) => (
        <Button variant="plain" fontWeight="650" color="ink" onClick={() => setChosen(id)}>
          {name}
        </Button>
      ),
    },
    { id: 'account', words: true, value: n => n.setup.account ?? UNKNOWN },
    { id: 'code', heading: 'its code', words: true, value: codeWords },
    { id: 'server', words: true, value: serverWords },
    ...states.map(
      ([state, heading]): Column<DescribedNetwork> => ({
        id: state,
        heading,
        value: n => n.sent[state] ?? (n.setup.outgoing ? 0 : null),
        cell: n => (n.sent[state] ? count(n.sent[state]) : n.setup.outgoing ? '0' : UNKNOWN),
      }),
    ),
    {
      id: 'again',
      value: n => n.sent.refused ?? 0,
      copied: () => '',
      cell: ({ sent, setup }) =>
        (sent.refused ?? 0) > 0 && (
          <Button size="xs" disabled={busy} onClick={() => send(() => actions.again(setup.id))}>
            Send again
          </Button>
        ),
    },
  ]
  return (
    <Page
      at="/signals/networks"
      says={
        <>
          {byCode.length === 0
            ? 'No network hears of anything yet. Choose one, paste the code that it gives its customers, and map your results onto its events in Results.'
            : `${count(byCode.length)} networks hear by their own code${byServer.length > 0 ? `, ${count(byServer.length)} of them from the server too, under the same event ID: each counts once` : ''}.`}{' '}
          {refused > 0 && `${count(refused)} ${refused === 1 ? 'event was' : 'events were'} refused.`}
        </>
      }
      beside={
        editing && (
          <NetworkForm
            key={editing.setup.id}
            network={editing}
            save={actions.save}
            close={() => setChosen(null)}
          />
        )
      }
    >
      <DataTable
        label="Networks"
        columns={columns}
        rows={networks}
        rowId={n => n.setup.id}
        enter={n => setChosen(n.setup.id)}
        chosen={chosen}
        main
      />
      <RelayLog log={log} now={now} />
    </Page>
  )
}

const states = [
  ['taken', 'taken'],
  ['waiting', 'waiting'],
  ['unconfirmed', 'not confirmed by the shop'],
  ['no_click', 'without its click'],
  ['refused', 'refused'],
] as const
const codeWords = ({ setup: { tag, placed_by } }: DescribedNetwork) =>
  !tag?.base ? UNKNOWN : placed_by === 'tag' ? 'placed by our tag' : 'placed on the site'
const serverWords = ({ setup: { outgoing, relayed_since }, hasSecret }: DescribedNetwork) =>
  !outgoing ? UNKNOWN : !relayed_since ? 'ready, off' : hasSecret ? 'on' : 'on, no secret'

/** What the server told, the latest first, each with the networks' answers. */
function RelayLog({ log, now }: { log: RelayLine[]; now: number }) {
  const { between, instant, zone } = useFormats()
  const networkName = useNetworkName()
  if (log.length === 0)
    return (
      <Note>
        The server has told nothing yet. It sends each result and order to the networks whose server interface
        is on, once a shopper comes by one of their clicks.
      </Note>
    )
  const stateOf = ({ state, tries, nextAt }: RelayLine) =>
    `${relayWords[state]}${state === 'waiting' && tries.length > 0 ? `, again in ${between(Math.max(0, nextAt - now))}` : ''}`
  const answerOf = ({ tries }: RelayLine) => {
    const last = tries.at(-1)
    return last
      ? `${tries.length > 1 ? `${tries.length} tries; ` : ''}${last.status ?? 'no answer'}: ${last.said.slice(0, 160)}`
      : UNKNOWN
  }
  const columns: Column<RelayLine>[] = [
    {
      id: 'when',
      words: true,
      value: l => l.at,
      copied: l => instant(l.at),
      cell: l => <span title={`${instant(l.at)} ${zone}`}>{between(Math.max(0, now - l.at))} ago</span>,
    },
    { id: 'network', words: true, pick: true, value: l => networkName(l.network) },
    { id: 'result', words: true, value: l => `${l.result}${l.test ? ' (test)' : ''}` },
    {
      id: 'event',
      heading: 'event ID',
      words: true,
      value: l => l.event_id,
      cell: l => <Mono>{l.event_id}</Mono>,
    },
    { id: 'state', words: true, value: stateOf },
    { id: 'answer', heading: 'the network’s answer', words: true, wraps: true, value: answerOf },
  ]
  return (
    <Section title="Told by the server" label="What the server told">
      <DataTable
        label="Told by the server"
        columns={columns}
        rows={log}
        rowId={l => `${l.network} ${l.event_id}`}
      />
    </Section>
  )
}
