'use client'
import { Text } from '@chakra-ui/react'
import { formatDay, zoneClock } from '@/core/shared/days'
import type { Alarm, Watched } from '@/server/signals/alarms'
import { type Formats, useFormats } from '../format'
import { Note, Section } from '../parts/Page'
import type { Column } from '../parts/table/columns'
import { DataTable } from '../parts/table/DataTable'
import { WordLink } from '../parts/WordLink'
import { useNetworkName } from '../shell/NetworkNames'

interface Words {
  /** what was seen */
  said: (alarm: Alarm, whole: (count: number) => string) => string
  /** what it probably is, and what to do */
  probably: (alarm: Alarm) => string
  /** where its evidence stands */
  look: (alarm: Alarm, days: { from: string; to: string }) => { href: string; name: string }
}
const inEvents = { href: '/intake?kind=event', name: 'the events' }
const inReconcile = ({ receiver }: Alarm, { from, to }: { from: string; to: string }, name: string) => ({
  href: `/reconcile?from=${from}&to=${to}&network=${receiver}`,
  name,
})

const words: Record<Alarm['kind'], Words> = {
  repeats: {
    said: (a, whole) => `${whole(a.repeats)} of ${whole(a.seen)} in a day had been told before`,
    probably: () =>
      'A thank-you page that is reloaded, or a tag that fires twice. We count each once; the network may not.',
    look: (a, days) =>
      a.receiver === 'Aequant' ? inEvents : inReconcile(a, days, 'its repeated claims in those days'),
  },
  flood: {
    said: (a, whole) => `${whole(a.seen)} in a day where ${whole(a.expected)} are usual`,
    probably: a =>
      a.through === 'reports'
        ? 'A thank-you page that is reloaded, and the network counts each time; or something really happened.'
        : 'It fires on too many pages, or a page is reloaded; or something really happened.',
    look: (a, days) =>
      a.through === 'reports' ? inReconcile(a, days, 'its claims beside the orders of those days') : inEvents,
  },
  quiet: {
    said: (a, whole) => `nothing came where ${whole(a.expected)} were expected`,
    probably: a =>
      a.through === 'shop'
        ? 'The shop sends its orders no more, or nobody ordered.'
        : 'The code is gone from the page, or shoppers no longer got there.',
    look: a =>
      a.through === 'shop'
        ? { href: '/intake', name: 'what arrives' }
        : { href: '/signals/live-test', name: 'a live test' },
  },
  lost_clicks: {
    said: (a, whole) => `of ${whole(a.expected)} clicks that the network billed ${whole(a.seen)} arrived`,
    probably: () => 'Its link is broken, or leads past the tracking domain.',
    look: a => ({ href: `/links?ad=${a.receiver}/${a.ad?.id}`, name: 'its link' }),
  },
}

/** What an empty list means: only what was watched was as usual. */
function watchedWords({ signals, ads }: Omit<Watched, 'alarms'>, { count }: Formats): string {
  const heard =
    signals > 0
      ? `${count(signals)} ${signals === 1 ? 'signal was' : 'signals were'} heard as often as usual`
      : 'No signal has been heard for eight days yet, so that nobody knows what is usual'
  const arrived =
    ads > 0
      ? `the billed clicks of ${count(ads)} ${ads === 1 ? 'ad' : 'ads'} arrived`
      : 'no report says yet what clicks should arrive'
  return `${heard}; ${arrived}.`
}

/** What was not as usual: since when, what it probably is, and where to look. */
export function Alarms({
  alarms,
  watched,
  days: told,
}: {
  alarms: Alarm[]
  watched: Omit<Watched, 'alarms'>
  /** so many days back are told of */
  days: number
}) {
  const formats = useFormats()
  const { zone, count, day } = formats
  const whole = (n: number) => count(Math.round(n))
  const networkName = useNetworkName()
  const clock = zoneClock(zone)
  const dayOf = (at: number) => formatDay(clock(at).day)
  const daysOf = ({ since, until }: Alarm) => ({ from: dayOf(since), to: dayOf((until ?? Date.now()) - 1) })
  const when = (alarm: Alarm) => {
    const { from, to } = daysOf(alarm)
    return `${day(from)}${alarm.until === null ? ', still' : to === from ? '' : ` – ${day(to)}`}`
  }
  const columns: Column<Alarm>[] = [
    { id: 'when', words: true, value: when },
    {
      id: 'what',
      words: true,
      value: a => (a.ad ? `clicks on ${a.ad.name}` : a.result),
      cell: a => <b>{a.ad ? `clicks on ${a.ad.name}` : a.result}</b>,
    },
    {
      id: 'by',
      heading: 'as heard by',
      words: true,
      value: a => (a.ad ? `Aequant (${networkName(a.receiver)})` : networkName(a.receiver)),
    },
    {
      id: 'seen',
      heading: 'what was seen',
      words: true,
      wraps: true,
      value: a => words[a.kind].said(a, whole),
      cell: a => (
        <Text as="span" color={a.until === null ? 'alarm' : undefined}>
          {words[a.kind].said(a, whole)}
        </Text>
      ),
    },
    {
      id: 'probably',
      heading: 'what it probably is',
      words: true,
      wraps: true,
      value: a => words[a.kind].probably(a),
      cell: a => {
        const { href, name } = words[a.kind].look(a, daysOf(a))
        return (
          <>
            {words[a.kind].probably(a)} <WordLink href={href}>Look at {name}</WordLink>.
          </>
        )
      },
    },
  ]
  return (
    <Section title={`Not as usual in the last ${told} days`} label="Signals not as usual">
      {alarms.length === 0 ? (
        <Note>{watchedWords(watched, formats)}</Note>
      ) : (
        <DataTable
          label="Not as usual"
          columns={columns}
          rows={alarms}
          rowId={a => `${a.kind} ${a.receiver} ${a.result} ${a.ad?.id} ${a.since}`}
        />
      )}
    </Section>
  )
}

export const AlarmsAwaited = () => (
  <Text fontSize="13px" color="quiet" mt="5" aria-busy="true">
    Reading ninety days of every signal …
  </Text>
)
