'use client'
import { Box, Button, Flex, Input, Text } from '@chakra-ui/react'
import { type ReactNode, useState } from 'react'
import { type SaleStatus, saleStatuses } from '@/core/intake/postback'
import type { AsideGroup, Mend } from '@/server/setAside'
import { useFormats } from '../format'
import { AskButton } from '../parts/AskButton'
import { DayField } from '../parts/DayField'
import { Select, TextField } from '../parts/Fields'
import { Fold } from '../parts/Fold'
import { Page, Said } from '../parts/Page'
import { useSending } from '../parts/useSending'
import { useNetworkName } from '../shell/NetworkNames'

const kindWords: Record<string, [one: string, many: string]> = {
  postback: ['postback', 'postbacks'],
  order: ['order', 'orders'],
  line: ['line of the journal', 'lines of the journal'],
  row: ['row of a file', 'rows of files'],
}

/** What is wrong with a group and what helps, by its reason. */
const reasons: Record<string, (facts: Record<string, string>) => string> = {
  unknown_status: f =>
    `${f.partner} writes ${f.parameter}=${f.value}, and nobody has said yet what “${f.value}” means.`,
  not_an_amount: f =>
    `${f.parameter}=${f.value} of ${f.partner} is no amount. Ask the partner to send it right.`,
  not_a_currency: f => `${f.parameter}=${f.value} of ${f.partner} is no currency.`,
  no_deal: f =>
    `${f.partner} sent no deal ID in ${f.parameter}: told twice, the sale would count twice. Put its macro into the postback address.`,
  unknown_partner: f => `There is no partner ${f.partner} any more. Add it again, then try again.`,
  no_rate: f =>
    `There is no exchange rate for ${f.currency ?? f.value} on that day, so it could be in no sum.`,
  torn_line: () =>
    'A crash cut it short before it was acknowledged. Nobody was told that it is kept, so nothing is owed; drop it when you have seen it.',
  not_a_record: () => 'It is no record that this version knows.',
  not_stored: () =>
    'The database refused it; everything that came with it is in. Try it again after an update, or drop it.',
  too_long: f =>
    `${f.parameter} of ${f.partner} is longer than any ID: ${f.value} … Ask the partner what it sends.`,
}

type Act = (group: AsideGroup, how: Mend, only?: string) => void

/** What was rejected or could not be placed, with its reason and a way to take it in. */
export function SetAsideScreen({
  groups,
  total,
  apart,
  sources,
  words,
  mend,
}: {
  groups: AsideGroup[]
  /** how many wait in all; there may be more groups than are shown */
  total: number
  /** what browsers reported and figures leave out until somebody decides */
  apart: ReactNode
  /** sources nobody knows, which need evidence: what is set aside does not wait for it */
  sources: ReactNode
  /** what is wrong with a cell, by its reason */
  words: Record<string, string>
  mend: (group: Pick<AsideGroup, 'kind' | 'reason' | 'facts'>, how: Mend, only?: string) => Promise<string>
}) {
  const { count } = useFormats()
  const [said, setSaid] = useState('')
  const [busy, send] = useSending()
  const act: Act = ({ kind, reason, facts }, how, only) =>
    send(async () => setSaid(await mend({ kind, reason, facts }, how, only)))
  return (
    <Page
      at="/intake/set-aside"
      says={
        total === 0
          ? 'Nothing is set aside: all that arrived could be read and placed. A postback with a word for its status that nobody has explained, say “maybe”, would wait here until you say what it means.'
          : `${count(total)} arrivals are set aside, for ${count(groups.length)} ${groups.length === 1 ? 'reason' : 'reasons'}. They are kept, and in no figure.`
      }
    >
      <Said busy={busy && 'Working …'}>{said}</Said>
      {total > 0 && (
        <Text fontSize="13px">
          <a href="/api/export/set-aside" download>
            Download {total === 1 ? 'it' : `all ${count(total)}`} as CSV
          </a>
        </Text>
      )}
      {groups.map(group => (
        <Group key={group.key} group={group} why={whyOf(group, words)} act={act} busy={busy} />
      ))}
      {apart}
      {sources}
    </Page>
  )
}

const fileWords = (file = '') => (file === 'report' ? 'A network’s report' : `${file}.csv`)
const whyOf = ({ kind, reason, facts }: AsideGroup, words: Record<string, string>): string =>
  kind === 'row' && reason !== 'no_rate'
    ? `${fileWords(facts.file)}: ${facts.column}${facts.value ? ` “${facts.value}”` : ''} ${words[reason] ?? reason}.`
    : (reasons[reason]?.(facts) ?? reason)

/** Orders whose parameters name a source that is no network's. */
export function Sources({
  sources,
  networks,
  placeSource,
}: {
  sources: { source: string; orders: number }[]
  networks: string[]
  placeSource: (source: string, network: string) => Promise<void>
}) {
  const { count } = useFormats()
  const [busy, send] = useSending()
  const place = (source: string, network: string) => send(() => placeSource(source, network))
  const networkName = useNetworkName()
  if (sources.length === 0) return null
  return (
    <Box
      as="section"
      aria-label="Sources nobody knows"
      borderTopWidth="2px"
      borderColor="hairline"
      mt="5"
      pt="3"
    >
      <Text as="h2" fontSize="15px" fontWeight="650">
        Orders that name a source which is no network’s
      </Text>
      <Text fontSize="13px" color="quiet" maxWidth="62rem">
        Their links said where they came from, in a word nobody has explained. Say which network it is, and
        the orders stand there as tagged.
      </Text>
      {sources.slice(0, 30).map(({ source, orders }) => (
        <Flex key={source} gap="3" align="center" mt="2" fontSize="13px" wrap="wrap">
          <Text fontFamily="mono" width="200px" truncate title={source}>
            {source}
          </Text>
          <Text width="90px">
            {count(orders)} {orders === 1 ? 'order' : 'orders'}
          </Text>
          {networks.map(network => (
            <Button key={network} disabled={busy} onClick={() => place(source, network)}>
              {networkName(network)}
            </Button>
          ))}
          <Button disabled={busy} onClick={() => place(source, '')}>
            no ad
          </Button>
        </Flex>
      ))}
    </Box>
  )
}

function Group({
  group,
  why,
  act: actOn,
  busy,
}: {
  group: AsideGroup
  why: string
  act: Act
  busy: boolean
}) {
  const { count, instant, zone } = useFormats()
  const [one, many] = kindWords[group.kind] ?? ['arrival', 'arrivals']
  const [only, setOnly] = useState('')
  const single = only !== '' || group.count === 1
  const act = (how: Mend) => {
    actOn(group, how, only || undefined)
    setOnly('')
  }
  const button = (label: string, how: Mend) => (
    <Button key={label} disabled={busy} onClick={() => act(how)}>
      {label}
    </Button>
  )
  return (
    <Box as="section" borderTopWidth="1px" borderColor="hairline" py="3" maxWidth="62rem">
      <Text as="h2" fontSize="15px" fontWeight="650">
        {count(group.count)} {group.count === 1 ? one : many}
        <Text as="span" fontWeight="400" color="quiet" fontSize="13px">
          {' '}
          · the latest {instant(group.latest)} {zone}
        </Text>
      </Text>
      <Text fontSize="14px">{why}</Text>
      {group.proposed && (
        <Text fontSize="13px" color="quiet">
          Line {count(group.proposed.line)} of {group.proposed.file} looks like its correction. If it is, drop
          this row.
        </Text>
      )}
      <Flex gap="2" mt="2" wrap="wrap" align="center" fontSize="13px">
        {group.count > 1 && (
          <Select
            aria-label="Which of them"
            style={{ maxWidth: 260 }}
            value={only}
            onChange={event => setOnly(event.target.value)}
          >
            <option value="">all {count(group.count)} alike</option>
            {group.items.map(item => (
              <option key={item.id} value={item.id}>
                only {item.raw.slice(0, 90)}
              </option>
            ))}
          </Select>
        )}
        {group.kind === 'postback' &&
          group.reason === 'unknown_status' &&
          saleStatuses.map((means: SaleStatus) => button(`It means ${means}`, { do: 'status', means }))}
        {group.reason === 'no_rate' && (
          <RateForm of={group.facts.currency ?? group.facts.value ?? ''} busy={busy} act={act} />
        )}
        {group.parameters.length > 0 && (
          <form
            onSubmit={event => {
              event.preventDefault()
              const parameter = String(new FormData(event.currentTarget).get('parameter'))
              act({ do: 'parameter', parameter })
            }}
          >
            <label>
              It stands in{' '}
              <Select name="parameter">
                {group.parameters.map(p => (
                  <option key={p}>{p}</option>
                ))}
              </Select>
            </label>{' '}
            <Button type="submit" disabled={busy}>
              Read it from there
            </Button>
          </form>
        )}
        {group.correctable && group.reason !== 'no_rate' && (
          <form
            onSubmit={event => {
              event.preventDefault()
              const value = String(new FormData(event.currentTarget).get('value')).trim()
              act({ do: 'value', value })
            }}
          >
            <label>
              Write as {group.facts.column} <Input width="auto" name="value" htmlSize={22} required />
            </label>{' '}
            <Button type="submit" disabled={busy}>
              Correct {single ? 'it' : `all ${count(group.count)}`} and take in
            </Button>
          </form>
        )}
        {(group.kind === 'postback' ||
          group.kind === 'order' ||
          group.reason === 'no_rate' ||
          group.reason === 'not_stored') &&
          button('Try again', { do: 'again' })}
        <AskButton
          disabled={busy}
          act={() => act({ do: 'drop' })}
          asks={
            single
              ? 'It is thrown away for good. It stands in no figure.'
              : `${count(group.count)} ${many} are thrown away for good. They stand in no figure.`
          }
        >
          {single ? 'Drop it' : `Drop all ${count(group.count)}`}
        </AskButton>
      </Flex>
      <Fold title="The latest as it came" fontSize="12px" color="quiet">
        <Box as="pre" fontFamily="mono" whiteSpace="pre-wrap" wordBreak="break-all" mt="1">
          {group.raw}
        </Box>
      </Fold>
    </Box>
  )
}

/** The rate of a day, for which amounts wait. */
function RateForm({ of, busy, act }: { of: string; busy: boolean; act: (how: Mend) => void }) {
  const { currency } = useFormats()
  const [date, setDate] = useState('')
  const [rate, setRate] = useState('')
  return (
    <>
      On <DayField unseen label="Day of the rate" value={date} change={setDate} />
      one {of} is
      <TextField unseen label={`What one ${of} is`} width="90px" value={rate} change={setRate} /> {currency}
      <Button
        disabled={busy || date === '' || !/^\d+(\.\d+)?$/.test(rate)}
        onClick={() => act({ do: 'rate', date, rate })}
      >
        Add the rate and take in
      </Button>
    </>
  )
}
