'use client'
import { Flex, Text } from '@chakra-ui/react'
import * as z from 'zod'
import type { Saved } from '@/core/shared/mergeEdit'
import { type Place, places } from '@/core/signals/fillCode'
import { type Outgoing, outgoingPlaces } from '@/core/signals/outgoing'
import type { TagCode } from '@/core/signals/tagCode'
import type { DescribedNetwork, NetworkSetup } from '@/server/signals/networks'
import { CheckField } from '../parts/CheckField'
import { LongTextField, NumberField, SelectField, TextField } from '../parts/Fields'
import { FormPanel } from '../parts/FormPanel'

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
  save: (
    setup: Omit<NetworkSetup, 'name'>,
    secret: string | null,
    before?: Omit<NetworkSetup, 'name'>,
    over?: boolean,
  ) => Promise<Saved>
  again: (network: string) => Promise<void>
}

/** The setup as it is typed: lists and names as words. */
const formSchema = z
  .object({
    account: z.string().trim(),
    placed_by: z.enum(['tag', 'site']),
    base: z
      .string()
      .refine(
        code => code === '' || code.includes('{account}'),
        'The base code has no {account}: it would be the same for everybody.',
      ),
    event: z
      .string()
      .refine(
        code => code === '' || code.includes('{event}'),
        'The event code has no {event}: every result would look alike.',
      ),
    script: z.string(),
    hit: z.string(),
    names: z.string(),
    standard: z.string(),
    generic: z.string(),
    method: z.enum(methods),
    address: z.string().trim(),
    headers: z.string(),
    body: z.string(),
    secret: z.string(),
    on: z.boolean(),
    confirmed_within_days: z.int().min(1).max(28),
  })
  .refine(
    ({ address, on, headers, body }) =>
      address === '' || !on || (address + headers + body).includes('{event_id}'),
    {
      path: ['body'],
      error: 'The request has no {event_id}: what browser and server both tell would count twice.',
    },
  )
type Typed = z.infer<typeof formSchema>

const typedOf = (setup: NetworkSetup): Typed => ({
  account: setup.account ?? '',
  placed_by: setup.placed_by,
  base: setup.tag?.base ?? '',
  event: setup.tag?.event ?? '',
  script: setup.tag?.requests?.script ?? '',
  hit: setup.tag?.requests?.hit ?? '',
  names: writeNames(setup.tag?.requests?.parameters ?? {}),
  standard: setup.slots.standard.join(', '),
  generic: setup.slots.generic.join(', '),
  method: setup.outgoing?.method ?? 'POST',
  address: setup.outgoing?.address ?? '',
  headers: writeHeaders(setup.outgoing?.headers ?? [{ name: 'content-type', value: 'application/json' }]),
  body: setup.outgoing?.body ?? '',
  secret: '',
  on: setup.relayed_since !== undefined,
  confirmed_within_days: setup.confirmed_within_days,
})

function tagOf({ base, event, script, hit, names }: Typed, before: TagCode | undefined): TagCode | undefined {
  if (base === '' && event === '') return undefined
  const page_view = before?.requests?.page_view ?? 'page_view'
  return {
    base,
    event,
    ...(script && hit ? { requests: { script, hit, parameters: readNames(names), page_view } } : {}),
  }
}

const setupOf = (typed: Typed, before: NetworkSetup): Omit<NetworkSetup, 'name'> => ({
  id: before.id,
  account: typed.account || undefined,
  tag: tagOf(typed, before.tag),
  placed_by: typed.placed_by,
  slots: { standard: listed(typed.standard), generic: listed(typed.generic) },
  outgoing:
    typed.address === ''
      ? undefined
      : {
          method: typed.method,
          address: typed.address,
          headers: readHeaders(typed.headers),
          body: typed.body,
        },
  confirmed_within_days: typed.confirmed_within_days,
  relayed_since:
    typed.on && typed.address !== '' ? (before.relayed_since ?? new Date().toISOString()) : undefined,
})

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
  return (
    <FormPanel
      title={`How ${setup.name} is told`}
      width={460}
      schema={formSchema}
      given={typedOf(setup)}
      keepWords="Keep it"
      save={(typed, before, over) =>
        save(setupOf(typed, setup), typed.secret.trim() || null, setupOf(before, setup), over)
      }
      close={close}
      kept={`How ${setup.name} is told is changed.`}
    >
      {({ event }) => (
        <>
          <TextField label="Our account or pixel ID" name="account" />
          <TextField label="Its events" name="standard" help="those with a meaning of their own" />
          <TextField label="Its generic events" name="generic" help="free for anything it has no event for" />
          <Heading>In the browser</Heading>
          <SelectField
            label="Its code is placed by"
            name="placed_by"
            choices={[
              ['tag', 'our tag: nothing to do on the site'],
              ['site', 'the site: it stands in the hand-off'],
            ]}
          />
          <LongTextField
            mono
            label="Base code"
            name="base"
            rows={3}
            help="paste it; write {account} for the account"
          />
          <LongTextField
            mono
            label="Event code"
            name="event"
            rows={4}
            help={
              event !== '' && !event.includes('{test}')
                ? 'Without {test} it is held back in live tests, which must not count.'
                : 'with {event} {value} {currency} {transaction} {event_id} {test}'
            }
          />
          <TextField label="It fetches" name="script" help="the address of its script, by its beginning" />
          <TextField label="It tells" name="hit" help="the address that hears an event, by its beginning" />
          <TextField label="Names there" name="names" help="ours=theirs, such as event=ev value=amount" />
          <Heading>From the server</Heading>
          <CheckField label="Send it every result from now on" name="on" />
          <NumberField
            label="Orders are sent up to"
            name="confirmed_within_days"
            least={1}
            unit="days"
            help="after they were made: an order that a browser reports is sent once the shop has it"
          />
          <Flex gap="1" align="end">
            <SelectField
              label="Request"
              name="method"
              width="90px"
              choices={methods.map(method => [method, method])}
            />
            <TextField label="Address of the request" name="address" placeholder="https://…" />
          </Flex>
          <LongTextField mono label="Headers" name="headers" rows={2} help="one a line" />
          <LongTextField
            mono
            label="Body"
            name="body"
            rows={5}
            help={`${outgoingPlaces.map(p => `{${p}}`).join(' ')}. With {correction} it is sent again when the shop changes or cancels an order.`}
          />
          <TextField
            label="Secret"
            name="secret"
            type="password"
            help="stands for {secret}; it is in no export and shown to nobody"
            placeholder={hasSecret ? 'one is kept; write another to replace it' : 'none is kept'}
            input={{ autoComplete: 'off' }}
          />
        </>
      )}
    </FormPanel>
  )
}

const Heading = ({ children }: { children: string }) => (
  <Text as="h3" fontWeight="650" mt="4">
    {children}
  </Text>
)
