'use client'
import { Box, Flex, Text } from '@chakra-ui/react'
import { useState, useTransition } from 'react'
import { type SaleStatus, saleStatuses } from '@/core/intake/postback'
import type { AsideGroup, Mend } from '@/server/setAside'
import { count, instant } from '../format'
import { IntakeNav } from './IntakeNav'

const kindWords: Record<string, [one: string, many: string]> = {
  postback: ['postback', 'postbacks'],
  order: ['order', 'orders'],
  line: ['line of the journal', 'lines of the journal'],
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
  no_rate: f => `There is no exchange rate for ${f.currency} on that day, so it could be in no sum.`,
  torn_line: () =>
    'A crash cut it short before it was acknowledged. Nobody was told that it is kept, so nothing is owed; drop it when you have seen it.',
  not_a_record: () => 'It is no record that this version knows.',
}

/** What was rejected or could not be placed, with its reason and a way to take it in. */
export function SetAsideScreen({
  groups,
  zone,
  currency,
  mend,
}: {
  groups: AsideGroup[]
  zone: string
  currency: string
  mend: (key: string, how: Mend) => Promise<string>
}) {
  const [said, setSaid] = useState('')
  const [busy, start] = useTransition()
  const act = (key: string, how: Mend) => start(async () => setSaid(await mend(key, how)))
  const total = groups.reduce((sum, g) => sum + g.count, 0)
  return (
    <Box px="5" pt="4" pb="8">
      <IntakeNav here="/intake/set-aside" />
      <Text as="h1" fontSize="19px" maxWidth="62rem">
        {total === 0
          ? 'Nothing is set aside: all that arrived could be read and placed. A postback with a word for its status that nobody has explained, say “maybe”, would wait here until you say what it means.'
          : `${count(total)} arrivals are set aside, for ${count(groups.length)} ${groups.length === 1 ? 'reason' : 'reasons'}. They are kept, and in no figure.`}
      </Text>
      <Text aria-live="polite" minHeight="20px" mt="1" fontSize="13px" color="quiet">
        {busy ? 'Working …' : said}
      </Text>
      {groups.map(group => (
        <Group key={group.key} group={group} zone={zone} currency={currency} act={act} busy={busy} />
      ))}
    </Box>
  )
}

function Group({
  group,
  zone,
  currency,
  act,
  busy,
}: {
  group: AsideGroup
  zone: string
  currency: string
  act: (key: string, how: Mend) => void
  busy: boolean
}) {
  const [one, many] = kindWords[group.kind] ?? ['arrival', 'arrivals']
  const button = (label: string, how: Mend) => (
    <button
      key={label}
      type="button"
      className="field press"
      disabled={busy}
      onClick={() => act(group.key, how)}
    >
      {label}
    </button>
  )
  return (
    <Box as="section" borderTopWidth="1px" borderColor="hairline" py="3" maxWidth="62rem">
      <Text as="h2" fontSize="15px" fontWeight="650">
        {count(group.count)} {group.count === 1 ? one : many}
        <Text as="span" fontWeight="400" color="quiet" fontSize="13px">
          {' '}
          · the latest {instant(group.latest, zone)} {zone}
        </Text>
      </Text>
      <Text fontSize="14px">{reasons[group.reason]?.(group.facts) ?? group.reason}</Text>
      <Flex gap="2" mt="2" wrap="wrap" align="center" fontSize="13px">
        {group.reason === 'unknown_status' &&
          saleStatuses.map((means: SaleStatus) => button(`It means ${means}`, { do: 'status', means }))}
        {group.reason === 'no_rate' && (
          <form
            className="inline"
            onSubmit={event => {
              event.preventDefault()
              const form = new FormData(event.currentTarget)
              act(group.key, { do: 'rate', date: String(form.get('date')), rate: String(form.get('rate')) })
            }}
          >
            <label>
              On <input className="field" type="date" name="date" required />
            </label>{' '}
            <label>
              one {group.facts.currency} is{' '}
              <input
                className="field"
                name="rate"
                size={8}
                inputMode="decimal"
                pattern="\d+(\.\d+)?"
                required
              />{' '}
              {currency}
            </label>{' '}
            <button type="submit" className="field press" disabled={busy}>
              Add the rate and take in
            </button>
          </form>
        )}
        {group.kind !== 'line' && button('Try again', { do: 'again' })}
        {button(group.count === 1 ? 'Drop it' : `Drop all ${count(group.count)}`, { do: 'drop' })}
      </Flex>
      <Box as="details" mt="2" fontSize="12px" color="quiet">
        <summary>The latest as it came</summary>
        <Box as="pre" fontFamily="mono" whiteSpace="pre-wrap" wordBreak="break-all" mt="1">
          {group.raw}
        </Box>
      </Box>
    </Box>
  )
}
