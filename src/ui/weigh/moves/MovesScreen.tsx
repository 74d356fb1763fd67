'use client'
import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { useRouter, useSearchParams } from 'next/navigation'
import { useState } from 'react'
import { ratio } from '@/core/weigh/figures'
import type { KeptMoves, Outcome } from '@/core/weigh/moves'
import type { OutcomesView } from '@/server/compute/views/moves'
import { useFormats } from '../../format'
import { Page, Said, Section } from '../../parts/Page'
import { DataTable } from '../../parts/table/DataTable'
import { WordLink } from '../../parts/WordLink'
import { useNetworkName } from '../../shell/NetworkNames'
import { useResultWords } from '../../shell/ResultWords'
import { factorWords } from '../plan/PlanCell'
import { queryOf } from '../WeighTable'
import { ForecastMark } from './ForecastMark'

/** Fewer days than these say little of a forecast. */
const TELLING_DAYS = 3

/** What was decided: each list of moves with its forecast, what came of it, and the way to the networks. */
export function MovesScreen({
  lists,
  outcomes,
  practised,
  practice,
}: {
  lists: readonly KeptMoves[]
  outcomes: OutcomesView
  /** networks that can be told from here */
  practised: readonly string[]
  /** whether a practice market runs beside this, whose clock can be moved */
  practice: boolean
}) {
  const router = useRouter()
  const { tenths, day, count } = useFormats()
  const words = useResultWords()
  const query = queryOf(useSearchParams().toString())
  const [said, setSaid] = useState('')
  const [alarm, setAlarm] = useState(false)
  const [busy, setBusy] = useState<string | false>(false)
  const holding = lists.filter(one => one.undoneAt === null)
  const looked = lists.flatMap((one, i) => {
    const outcome = outcomes[i]!.account
    return one.undoneAt === null && outcome.days >= TELLING_DAYS ? [outcome] : []
  })
  const held = looked.filter(outcome => outcome.held).length
  const sum = (pick: (outcome: Outcome) => number) => looked.reduce((all, one) => all + pick(one), 0)
  const send = async (
    path: string,
    body: object | null,
    doing: string,
    done: (answer: unknown) => string,
  ) => {
    setBusy(doing)
    const answer = await fetch(path, {
      method: body ? 'POST' : 'DELETE',
      headers: { 'x-aequant': '1', 'content-type': 'application/json' },
      ...(body && { body: JSON.stringify(body) }),
    }).catch(() => null)
    const told = await answer?.json().catch(() => null)
    setBusy(false)
    setAlarm(!answer?.ok)
    setSaid(
      answer?.ok ? done(told) : (told?.error ?? 'The application does not answer: nothing was changed.'),
    )
    router.refresh()
    return answer?.ok === true
  }
  return (
    <Page
      at="/weigh/moves"
      says={
        lists.length === 0 ? (
          <>
            Nothing was decided yet. Plan in <WordLink href={`/weigh?${query}`}>Cost and line</WordLink>: mark
            rows, cut or raise them, and make the moves; here you will see what came of each against what was
            expected.
          </>
        ) : (
          <>
            <b>{count(holding.length)}</b> {holding.length === 1 ? 'decision holds' : 'decisions hold'}.{' '}
            {holding.length === 0
              ? 'All were taken back.'
              : looked.length === 0
                ? 'None of them is old enough yet to be held against what happened.'
                : words(
                    `Of ${count(looked.length)} ${looked.length === 1 ? 'forecast' : 'forecasts'} for the networks concerned, ${count(held)} came true within ${looked.length === 1 ? 'its' : 'their'} range: ${tenths(sum(one => one.foreseen.results))} orders were foreseen, and ${tenths(sum(one => one.happened.results))} came.`,
                  )}
          </>
        )
      }
      actions={
        practice && (
          <Button
            disabled={busy !== false}
            onClick={() =>
              void send(
                '/api/practice/day',
                { days: 7 },
                'The practice market goes on for a week …',
                answer => {
                  const { day: until } = answer as { day: string }
                  return `The practice market has gone on to ${day(until)}.`
                },
              )
            }
          >
            Let the practice market go on for a week
          </Button>
        )
      }
    >
      <Said busy={busy} alarm={alarm}>
        {said}
      </Said>
      {lists.map((kept, i) => (
        <List
          key={kept.list.id}
          kept={kept}
          outcome={outcomes[i]!}
          practised={practised}
          query={query}
          apply={(network, name) =>
            void send(
              `/api/moves/${kept.list.id}/applied`,
              { network },
              `${name} is being told …`,
              () => `${name} serves by it from now on.`,
            )
          }
          takeBack={() =>
            void send(
              `/api/moves/${kept.list.id}`,
              null,
              'It is being taken back …',
              () => 'The moves are taken back.',
            )
          }
        />
      ))}
    </Page>
  )
}

function List({
  kept: { list, applied, undoneAt },
  outcome,
  practised,
  query,
  apply,
  takeBack,
}: {
  kept: KeptMoves
  outcome: OutcomesView[number]
  practised: readonly string[]
  query: string
  apply: (network: string, name: string) => void
  takeBack: () => void
}) {
  const f = useFormats()
  const { money, tenths, count, instant, day, currency } = f
  const networkName = useNetworkName()
  const words = useResultWords()
  const networks = [...new Set(list.moves.map(move => move.network))]
  const { account } = outcome
  const { days, foreseen, happened } = account
  const { until } = outcome
  const cost = (spend: number, results: number) => money(ratio(spend, results))
  const rows = list.moves.map((move, i) => ({ move, outcome: outcome.moves[i]!, id: move.path.join('/') }))
  return (
    <Section
      label={`Decided ${instant(list.at)}`}
      title={
        <>
          {instant(list.at)}, {list.by}
          {undoneAt !== null && (
            <Text as="span" color="quiet" fontWeight="400">
              {' '}
              · taken back {instant(undoneAt)}
            </Text>
          )}
        </>
      }
    >
      {list.why && <Text mt="1">“{list.why}”</Text>}
      <Text mt="1">
        {days === 0
          ? words(
              `Expected of all ads of ${networks.map(networkName).join(', ')}, a day from the day after on: ${money(Math.round(list.account.spend.after))} ${currency} spent in place of ${money(Math.round(list.account.spend.before))}, for ${tenths(list.account.results.after)} orders in place of ${tenths(list.account.results.before)}.`,
            )
          : words(
              `Over ${count(days)} ${days === 1 ? 'day' : 'days'}, up to ${day(until ?? list.day)}, ${tenths(foreseen.results)} orders were foreseen (${count(Math.round(foreseen.low))}–${count(Math.round(foreseen.high))}) for ${money(foreseen.spend)} ${currency}, one at ${cost(foreseen.spend, foreseen.results)}; ${tenths(happened.results)} came for ${money(happened.spend)}, one at ${cost(happened.spend, happened.results)}.`,
            )}{' '}
        {days > 0 && (
          <Text as="span" fontWeight="650" color={account.held ? 'shop' : 'alarm'}>
            {account.held ? 'Within what was foreseen.' : 'Outside of what was foreseen.'}
          </Text>
        )}
      </Text>
      <Flex gap="2" mt="2" wrap="wrap" fontSize="13px" className="no-print">
        {networks.map(network => (
          <Flex key={network} gap="2" align="center">
            <Button asChild>
              <a href={`/api/moves/${list.id}/sheet?network=${network}`} download>
                Change sheet for {networkName(network)} (CSV)
              </a>
            </Button>
            {applied[network] ? (
              <Text color="quiet">told {instant(Date.parse(applied[network]))}</Text>
            ) : (
              undoneAt === null &&
              practised.includes(network) && (
                <Button variant="solid" onClick={() => apply(network, networkName(network))}>
                  Apply at {networkName(network)}
                </Button>
              )
            )}
          </Flex>
        ))}
        {undoneAt === null && <Button onClick={takeBack}>Take back</Button>}
      </Flex>
      <Box mt="2">
        <DataTable
          label={`Moves of ${instant(list.at)}`}
          rows={rows}
          rowId={row => row.id}
          tools
          columns={[
            {
              id: 'what',
              heading: `money in ${currency}`,
              words: true,
              width: 220,
              value: row => row.move.name,
              cell: row => (
                <WordLink
                  href={`/weigh/trend?${query}&row=${encodeURIComponent(JSON.stringify(row.move.path))}`}
                >
                  {row.move.name}
                </WordLink>
              ),
            },
            { id: 'network', words: true, width: 90, value: row => networkName(row.move.network) },
            {
              id: 'budget',
              width: 80,
              hint: 'what was decided about its budget',
              value: row => row.move.factor,
              cell: row => factorWords(row.move.factor),
            },
            {
              id: 'before',
              heading: 'a day before',
              width: 80,
              as: 'amount',
              hint: 'what it spent a day before',
              value: row => Math.round(row.move.forecast.spend.before),
            },
            {
              id: 'after',
              heading: 'a day after',
              width: 80,
              as: 'amount',
              hint: 'what it is to spend a day',
              value: row => Math.round(row.move.forecast.spend.after),
            },
            {
              id: 'spent',
              width: 84,
              as: 'amount',
              hint: 'what it has spent since, on days of which its network has told',
              value: row => (row.outcome.days > 0 ? row.outcome.happened.spend : null),
            },
            {
              id: 'foreseen',
              heading: words('orders foreseen'),
              width: 110,
              hint: words(
                'orders that were expected in these days, with the range that was to hold four times in five',
              ),
              value: row => (row.outcome.days > 0 ? row.outcome.foreseen.results : null),
              cell: row =>
                row.outcome.days === 0
                  ? '—'
                  : `${tenths(row.outcome.foreseen.results)}  (${count(Math.round(row.outcome.foreseen.low))}–${count(Math.round(row.outcome.foreseen.high))})`,
            },
            {
              id: 'came',
              heading: words('orders that came'),
              width: 90,
              as: 'tenths',
              hint: words('estimated orders in these days'),
              value: row => (row.outcome.days > 0 ? row.outcome.happened.results : null),
            },
            {
              id: 'stands',
              heading: 'against the forecast',
              width: 130,
              hint: 'the range that was foreseen, and where what came stands',
              value: row =>
                row.outcome.days > 0 ? row.outcome.happened.results - row.outcome.foreseen.results : null,
              cell: row => <ForecastMark outcome={row.outcome} />,
            },
          ]}
        />
      </Box>
    </Section>
  )
}
