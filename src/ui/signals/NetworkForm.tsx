'use client'
import { Box, Button, Flex, Input, Text, Textarea } from '@chakra-ui/react'
import { type ReactNode, useState, useTransition } from 'react'
import { type Place, places } from '@/core/signals/fillCode'
import { type Outgoing, outgoingPlaces } from '@/core/signals/outgoing'
import type { TagCode } from '@/core/signals/tagCode'
import type { DescribedNetwork, NetworkSetup } from '@/server/signals/networks'
import { CheckField, Select } from '../parts/Fields'
import { SidePanel } from '../parts/SidePanel'

const methods = ['POST', 'PUT', 'GET'] as const
const isPlace = (text: string): text is Place => places.some(p => p === text)

/** `account=acc event=ev`: the network's name for each of ours. */
const writeNames = (names: Partial<Record<string, string>>) =>
  Object.entries(names)
    .map(([ours, theirs]) => `${ours}=${theirs}`)
    .join(' ')
const readNames = (text: string): Partial<Record<Place, string>> =>
  Object.fromEntries(
    text
      .split(/[\s,]+/)
      .map(pair => pair.split('='))
      .filter(([ours, theirs]) => ours && theirs && isPlace(ours)),
  )
const writeHeaders = (headers: Outgoing['headers']) =>
  headers.map(({ name, value }) => `${name}: ${value}`).join('\n')
const readHeaders = (text: string): Outgoing['headers'] =>
  text
    .split('\n')
    .map(line => /^\s*([^:]+?)\s*:\s*(.*?)\s*$/.exec(line))
    .flatMap(found => (found ? [{ name: found[1]!, value: found[2]! }] : []))

const listed = (text: string) =>
  text
    .split(/[\s,]+/)
    .map(t => t.trim())
    .filter(Boolean)

export interface NetworkActions {
  save: (setup: Omit<NetworkSetup, 'name'>, secret: string | null) => Promise<string | null>
  again: (network: string) => Promise<void>
}

/** One network's code as its customers paste it, who places it, and the request by which our server tells it. */
export function NetworkForm({
  network: { setup, hasSecret },
  save,
  close,
}: {
  network: DescribedNetwork
  save: NetworkActions['save']
  close: () => void
}) {
  const [account, setAccount] = useState(setup.account ?? '')
  const [placedBy, setPlacedBy] = useState(setup.placed_by)
  const [base, setBase] = useState(setup.tag?.base ?? '')
  const [event, setEvent] = useState(setup.tag?.event ?? '')
  const [script, setScript] = useState(setup.tag?.requests?.script ?? '')
  const [hit, setHit] = useState(setup.tag?.requests?.hit ?? '')
  const [names, setNames] = useState(writeNames(setup.tag?.requests?.parameters ?? {}))
  const [standard, setStandard] = useState(setup.slots.standard.join(', '))
  const [generic, setGeneric] = useState(setup.slots.generic.join(', '))
  const [method, setMethod] = useState<Outgoing['method']>(setup.outgoing?.method ?? 'POST')
  const [address, setAddress] = useState(setup.outgoing?.address ?? '')
  const [headers, setHeaders] = useState(
    writeHeaders(setup.outgoing?.headers ?? [{ name: 'content-type', value: 'application/json' }]),
  )
  const [body, setBody] = useState(setup.outgoing?.body ?? '')
  const [secret, setSecret] = useState('')
  const [on, setOn] = useState(setup.relayed_since !== undefined)
  const [said, setSaid] = useState('')
  const [busy, start] = useTransition()

  const lacks =
    base !== '' && !base.includes('{account}')
      ? 'The base code has no {account}: it would be the same for everybody.'
      : event !== '' && !event.includes('{event}')
        ? 'The event code has no {event}: every result would look alike.'
        : address !== '' && on && !/\{event_id\}/.test(address + headers + body)
          ? 'The request has no {event_id}: what browser and server both tell would count twice.'
          : ''
  const tag: TagCode | undefined =
    base === '' && event === ''
      ? undefined
      : {
          base,
          event,
          ...(script && hit
            ? {
                requests: {
                  script,
                  hit,
                  parameters: readNames(names),
                  page_view: setup.tag?.requests?.page_view ?? 'page_view',
                },
              }
            : {}),
        }
  const keep = () =>
    start(async () => {
      const wrong = await save(
        {
          id: setup.id,
          account: account.trim() || undefined,
          tag,
          placed_by: placedBy,
          slots: { standard: listed(standard), generic: listed(generic) },
          outgoing:
            address.trim() === ''
              ? undefined
              : { method, address: address.trim(), headers: readHeaders(headers), body },
          relayed_since:
            on && address.trim() !== '' ? (setup.relayed_since ?? new Date().toISOString()) : undefined,
        },
        secret.trim() || null,
      )
      setSaid(wrong ?? 'Kept.')
      if (!wrong) setSecret('')
    })
  return (
    <SidePanel title={`How ${setup.name} is told`} width={460} close={close}>
      <Line label="Our account or pixel ID">
        <Input width="auto" value={account} onChange={e => setAccount(e.target.value)} />
      </Line>
      <Line label="Its events" hint="those with a meaning of their own">
        <Input value={standard} onChange={e => setStandard(e.target.value)} />
      </Line>
      <Line label="Its generic events" hint="free for anything it has no event for">
        <Input value={generic} onChange={e => setGeneric(e.target.value)} />
      </Line>
      <Text as="h3" fontWeight="650" mt="4">
        In the browser
      </Text>
      <Line label="Its code is placed by">
        <Select value={placedBy} onChange={e => setPlacedBy(e.target.value === 'tag' ? 'tag' : 'site')}>
          <option value="tag">our tag: nothing to do on the site</option>
          <option value="site">the site: it stands in the hand-off</option>
        </Select>
      </Line>
      <Line label="Base code" hint="paste it; write {account} for the account">
        <Code value={base} rows={3} keep={setBase} />
      </Line>
      <Line label="Event code" hint="with {event} {value} {currency} {transaction} {event_id} {test}">
        <Code value={event} rows={4} keep={setEvent} />
      </Line>
      {event !== '' && !event.includes('{test}') && (
        <Text color="quiet">Without {'{test}'} it is held back in live tests, which must not count.</Text>
      )}
      <Line label="It fetches" hint="the address of its script, by its beginning">
        <Input value={script} onChange={e => setScript(e.target.value)} />
      </Line>
      <Line label="It tells" hint="the address that hears an event, by its beginning">
        <Input value={hit} onChange={e => setHit(e.target.value)} />
      </Line>
      <Line label="Names there" hint="ours=theirs, such as event=ev value=amount">
        <Input value={names} onChange={e => setNames(e.target.value)} />
      </Line>
      <Text as="h3" fontWeight="650" mt="4">
        From the server
      </Text>
      <CheckField label="Send it every result from now on" value={on} change={setOn} />
      <Line label="Request">
        <Flex gap="1">
          <Select
            aria-label="Method"
            value={method}
            onChange={e => setMethod(methods.find(m => m === e.target.value) ?? 'POST')}
          >
            {methods.map(m => (
              <option key={m}>{m}</option>
            ))}
          </Select>
          <Input
            aria-label="Address of the request"
            placeholder="https://…"
            value={address}
            onChange={e => setAddress(e.target.value)}
          />
        </Flex>
      </Line>
      <Line label="Headers" hint="one a line">
        <Code value={headers} rows={2} keep={setHeaders} />
      </Line>
      <Line label="Body" hint={outgoingPlaces.map(p => `{${p}}`).join(' ')}>
        <Code value={body} rows={5} keep={setBody} />
      </Line>
      <Line label="Secret" hint="stands for {secret}; it is in no export and shown to nobody">
        <Input
          type="password"
          autoComplete="off"
          placeholder={hasSecret ? 'one is kept; write another to replace it' : 'none is kept'}
          value={secret}
          onChange={e => setSecret(e.target.value)}
        />
      </Line>
      <Flex gap="2" align="center" mt="3">
        <Button disabled={busy} onClick={keep}>
          Keep it
        </Button>
        <Text color={lacks || (said && said !== 'Kept.') ? 'alarm' : 'quiet'} aria-live="polite">
          {lacks || said}
        </Text>
      </Flex>
    </SidePanel>
  )
}

function Line({ label, hint, children }: { label: string; hint?: string; children: ReactNode }) {
  return (
    <Box as="label" display="block" mt="2">
      <Text>
        {label}
        {hint && (
          <Text as="span" color="quiet">
            {' '}
            · {hint}
          </Text>
        )}
      </Text>
      {children}
    </Box>
  )
}

function Code({ value, rows, keep }: { value: string; rows: number; keep: (text: string) => void }) {
  return (
    <Textarea
      spellCheck={false}
      style={{ height: 'auto', fontFamily: 'var(--chakra-fonts-mono)', fontSize: 12 }}
      rows={rows}
      value={value}
      onChange={e => keep(e.target.value)}
    />
  )
}
