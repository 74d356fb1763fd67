'use client'
import { Box, Button, Flex, Kbd, Text } from '@chakra-ui/react'
import Link from 'next/link'
import { useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import type { Decision } from '@/core/intake/decisions'
import type { BenchView } from '@/server/compute/views/bench'
import { type Formats, UNKNOWN, useFormats } from '../format'
import { Note, Page, Said, Section } from '../parts/Page'
import type { Column } from '../parts/table/columns'
import { DataTable } from '../parts/table/DataTable'
import { undoable } from '../parts/undo'
import { useDecide } from '../parts/useDecide'
import { useNetworkName } from '../shell/NetworkNames'
import { useResultWords } from '../shell/ResultWords'

import { AsJson } from './AsJson'

type Claim = BenchView['claims'][number]
type Candidate = Claim['candidates'][number]
type Say = (order: string, what: (typeof sayings)[number]) => Promise<void>
const letters = ['a', 'b', 'c', 'd', 'e'] as const

/** What an order of the bench can be said to be. */
const sayings = [
  { words: 'a test', said: 'was a test', decided: { about: 'test' } },
  { words: 'by phone', said: 'came by phone', decided: { about: 'channel', channel: 'phone' } },
  { words: 'in the store', said: 'came by the store', decided: { about: 'channel', channel: 'store' } },
] as const

const kinWords: Record<Candidate['kin'], string> = {
  ad: 'came by this very ad',
  campaign: 'came by another ad of the campaign',
  network: 'came by another campaign of the network',
  none: 'nobody knows by which ad it came',
  other: 'came by another network',
}

/** Why something cannot be taken back. */
const GONE = 'it no longer held.'

/** Claims of which it is not certain what order they are for, settled one after the other by keys. */
export function BenchScreen({ view, decisions }: { view: BenchView; decisions: readonly Decision[] }) {
  const { count } = useFormats()
  const words = useResultWords()
  /** what was settled or left here; the page follows after it */
  const [done, setDone] = useState<ReadonlySet<string>>(new Set())
  const { problem, decide, undo } = useDecide()
  const open = view.claims.filter(claim => !done.has(claim.key))
  const [claim] = open
  const settled = view.claims.length - open.length
  const mark = (key: string, isDone: boolean) =>
    setDone(before => {
      const next = new Set(before)
      if (isDone) next.add(key)
      else next.delete(key)
      return next
    })
  const settle = async (order: string | null) => {
    if (!claim) return
    const { key } = claim
    mark(key, true)
    const kept = await decide({ about: 'claim', claim: key, order, why: 'settled at the matching bench' })
    if (!kept || kept === true) return mark(key, false)
    undoable(order === null ? 'It is for none of ours.' : `It is for ${order}.`, async () => {
      if (!(await undo(kept.id))) return GONE
      mark(key, false)
      return null
    })
  }
  /** Says what an order is; its claim stays to be settled. */
  const say = async (order: string, what: (typeof sayings)[number]) => {
    const kept = await decide({ ...what.decided, order, why: 'settled at the matching bench' })
    if (kept && kept !== true)
      undoable(`${order} ${what.said}.`, async () => ((await undo(kept.id)) ? null : GONE))
  }
  const choose = (letter: string) => {
    const candidate = claim?.candidates[letters.indexOf(letter as never)]
    if (candidate) void settle(candidate.id)
  }
  useHotkeys([...letters], event => choose(event.key), [claim])
  useHotkeys('n', () => void settle(null), [claim])
  useHotkeys('s', () => claim && mark(claim.key, true), [claim])
  const { gap } = view
  return (
    <Page
      at="/reconcile/bench"
      actions={<AsJson of="bench" />}
      says={
        view.total === 0
          ? words('Every claim that is listed by itself is certain, or has been settled.')
          : words(
              `Of ${count(view.total)} claims it is not certain what orders they are for; ${count(gap.matched)} of ${count(gap.claims)} claims stand against one of ${count(gap.orders)} orders now.`,
            )
      }
    >
      <Said alarm>
        {problem ?? (claim && settled > 0 && `${count(settled)} done, ${count(open.length)} to go.`)}
      </Said>
      {claim && (
        <Case
          claim={claim}
          choose={choose}
          none={() => settle(null)}
          later={() => mark(claim.key, true)}
          say={say}
        />
      )}
      {!claim && view.total > 0 && (
        <Note>
          {words('All that were shown are settled or left.')}{' '}
          <Button size="xs" onClick={() => setDone(new Set())}>
            Take up those that were left
          </Button>
        </Note>
      )}
      <Log
        decisions={decisions}
        back={async one => {
          // What is taken back is open again here as well.
          if ((await undo(one.id)) && one.about === 'claim') mark(one.claim, false)
        }}
      />
    </Page>
  )
}

/** One claim with the orders that it could be for, side by side. */
function Case({
  claim,
  choose,
  none,
  later,
  say,
}: {
  claim: Claim
  choose: (letter: string) => void
  none: () => void
  later: () => void
  say: Say
}) {
  const { money, currency, instant } = useFormats()
  const networkName = useNetworkName()
  const words = useResultWords()
  return (
    <Section
      title={`${networkName(claim.network)} claims ${claim.value === null ? 'one' : `${money(claim.value)} ${currency}`}`}
    >
      <Text>
        {instant(claim.at)}, by {claim.by === 'click' ? 'a click on' : 'a view of'} {claim.ad || 'an ad of'}
        {claim.campaign && ` in ${claim.campaign}`}
        {claim.transaction &&
          words(`; it names the order ${claim.transaction}, which the shop does not have`)}
        . {claim.now === null ? 'It stands against none of ours.' : `It is taken for ${claim.now}.`}
      </Text>
      <Flex
        as="ol"
        listStyleType="none"
        gap="3"
        mt="3"
        wrap="wrap"
        aria-label={words('Orders that it could be for')}
      >
        {claim.candidates.map((one, i) => (
          <CandidateCard
            key={one.id}
            one={one}
            letter={letters[i]!}
            isNow={one.id === claim.now}
            choose={choose}
            say={say}
          />
        ))}
      </Flex>
      {claim.candidates.length === 0 && <Note>{words('No order lies within 36 hours of it.')}</Note>}
      <Flex gap="2" mt="3">
        <Button onClick={none}>
          For none of ours <Kbd>n</Kbd>
        </Button>
        <Button onClick={later}>
          Leave it <Kbd>s</Kbd>
        </Button>
      </Flex>
    </Section>
  )
}

function CandidateCard({
  one,
  letter,
  isNow,
  choose,
  say,
}: {
  one: Candidate
  letter: string
  isNow: boolean
  choose: (letter: string) => void
  say: Say
}) {
  const formats = useFormats()
  const { money, currency, instant } = formats
  return (
    <Box
      as="li"
      borderTopWidth="2px"
      borderColor={isNow ? 'ink' : 'hairline'}
      pt="2"
      width="15.5rem"
      fontSize="13px"
    >
      <Flex justify="space-between" align="baseline">
        <Link
          href={`/intake/orders/${encodeURIComponent(one.id)}`}
          title="Everything that is known of it; settle there that it is a test, or came by phone"
        >
          <Text as="span" fontFamily="mono" textDecoration="underline">
            {one.id}
          </Text>
        </Link>
        <Text as="span" fontWeight="650">
          {money(one.value)} {currency}
        </Text>
      </Flex>
      <Text>{instant(one.at)}</Text>
      <Box as="ul" listStyleType="none" mt="1" color="quiet">
        {reasonsOf(one, formats).map(reason => (
          <li key={reason}>{reason}</li>
        ))}
      </Box>
      <Button mt="2" onClick={() => choose(letter)}>
        {isNow ? 'It is, as taken now' : 'It is this one'} <Kbd>{letter}</Kbd>
      </Button>
      <Text mt="2" fontSize="12px" color="quiet">
        It was, whatever the claim says:
      </Text>
      <Flex gap="1" mt="1">
        {sayings.map(what => (
          <Button key={what.words} size="xs" onClick={() => void say(one.id, what)}>
            {what.words}
          </Button>
        ))}
      </Flex>
    </Box>
  )
}

/** What speaks for an order, and against it. */
function reasonsOf(
  { more, late, usual, kin, from, held, counts, status }: Candidate,
  formats: Formats,
): string[] {
  const { money, between, percent } = formats
  const apart = `${between(Math.abs(late))} ${late < 0 ? 'after' : 'before'} the claim`
  return [
    more === null
      ? 'the claim names no amount'
      : more === 0
        ? 'the same amount'
        : `the claim is ${money(Math.abs(more))} ${more > 0 ? 'more' : 'less'}`,
    `${apart}; ${percent(usual)} of those that are certain lie as far apart`,
    from ? `${kinWords[kin]}: ${from.ad || from.campaign || UNKNOWN}` : kinWords[kin],
    ...(held ? ['another claim of the network is for it already'] : []),
    ...(counts ? [] : [`it does not count: ${status.replaceAll('_', ' ')}`]),
  ]
}

/** What was settled of claims, the latest first; each can be taken back. */
function Log({ decisions, back }: { decisions: readonly Decision[]; back: (decision: Decision) => unknown }) {
  const columns: Column<Decision>[] = [
    { id: 'when', value: one => one.at, as: 'instant' },
    {
      id: 'what',
      words: true,
      value: one =>
        one.about !== 'claim' ? '' : one.order === null ? 'for none of ours' : `for the order ${one.order}`,
    },
    { id: 'why', words: true, wraps: true, value: one => one.why },
    { id: 'by', heading: 'who', words: true, value: one => one.by },
    {
      id: 'undo',
      heading: 'back',
      value: () => null,
      cell: one => (
        <Button size="xs" onClick={() => back(one)}>
          Take back
        </Button>
      ),
    },
  ]
  return (
    <Section title="What was settled">
      <DataTable
        label="What was settled of claims"
        columns={columns}
        rows={decisions}
        rowId={one => one.id}
        empty={
          <Note>
            Nothing yet. What is settled here stands on top of the records, and changes none of them.
          </Note>
        }
      />
    </Section>
  )
}
