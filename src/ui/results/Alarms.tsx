'use client'
import { Box, Text } from '@chakra-ui/react'
import Link from 'next/link'
import { formatDay, zoneClock } from '@/core/shared/days'
import type { Alarm, Watched } from '@/server/signals/alarms'
import { count } from '../format'
import { useNetworkName } from '../shell/NetworkNames'

interface Words {
  /** what was seen */
  said: (alarm: Alarm) => string
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
const whole = (n: number) => count(Math.round(n))

const words: Record<Alarm['kind'], Words> = {
  repeats: {
    said: a => `${whole(a.repeats)} of ${whole(a.seen)} in a day had been told before`,
    probably: () =>
      'A thank-you page that is reloaded, or a tag that fires twice. We count each once; the network may not.',
    look: (a, days) =>
      a.receiver === 'Aequant' ? inEvents : inReconcile(a, days, 'its repeated claims in those days'),
  },
  flood: {
    said: a => `${whole(a.seen)} in a day where ${whole(a.expected)} are usual`,
    probably: a =>
      a.through === 'reports'
        ? 'A thank-you page that is reloaded, and the network counts each time; or something really happened.'
        : 'It fires on too many pages, or a page is reloaded; or something really happened.',
    look: (a, days) =>
      a.through === 'reports' ? inReconcile(a, days, 'its claims beside the orders of those days') : inEvents,
  },
  quiet: {
    said: a => `nothing came where ${whole(a.expected)} were expected`,
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
    said: a => `of ${whole(a.expected)} clicks that the network billed ${whole(a.seen)} arrived`,
    probably: () => 'Its link is broken, or leads past the tracking domain.',
    look: a => ({ href: `/links?ad=${a.receiver}/${a.ad?.id}`, name: 'its link' }),
  },
}

/** What an empty list means: only what was watched was as usual. */
function watchedWords({ signals, ads }: Omit<Watched, 'alarms'>): string {
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
  zone,
}: {
  alarms: Alarm[]
  watched: Omit<Watched, 'alarms'>
  /** so many days back are told of */
  days: number
  zone: string
}) {
  const networkName = useNetworkName()
  const clock = zoneClock(zone)
  const dayOf = (at: number) => formatDay(clock(at).day)
  return (
    <Box as="section" mt="5" aria-label="Not as usual">
      <Text as="h2" fontSize="16px" fontWeight="650">
        Not as usual in the last {told} days
      </Text>
      {alarms.length === 0 ? (
        <Text fontSize="13px" color="quiet">
          {watchedWords(watched)}
        </Text>
      ) : (
        <table className="ledger" style={{ maxWidth: '76rem' }}>
          <thead>
            <tr>
              {['when', 'what', 'as heard by', 'what was seen', 'what it probably is'].map(head => (
                <th key={head} scope="col" style={{ textAlign: 'left' }}>
                  {head}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {alarms.map(alarm => {
              const { said, probably, look } = words[alarm.kind]
              const days = { from: dayOf(alarm.since), to: dayOf((alarm.until ?? Date.now()) - 1) }
              const { href, name } = look(alarm, days)
              return (
                <tr key={`${alarm.kind} ${alarm.receiver} ${alarm.result} ${alarm.ad?.id} ${alarm.since}`}>
                  <td style={{ textAlign: 'left', verticalAlign: 'top' }}>
                    {days.from}
                    {alarm.until === null
                      ? ', still'
                      : days.to === days.from
                        ? ''
                        : ` to ${days.to.slice(5)}`}
                  </td>
                  <td style={{ textAlign: 'left', verticalAlign: 'top', fontWeight: 650 }}>
                    {alarm.ad ? `clicks on ${alarm.ad.name}` : alarm.result}
                  </td>
                  <td style={{ textAlign: 'left', verticalAlign: 'top' }}>
                    {alarm.ad ? `Aequant (${networkName(alarm.receiver)})` : networkName(alarm.receiver)}
                  </td>
                  <td
                    style={{
                      textAlign: 'left',
                      verticalAlign: 'top',
                      whiteSpace: 'normal',
                      color: alarm.until === null ? 'var(--chakra-colors-alarm)' : undefined,
                    }}
                  >
                    {said(alarm)}
                  </td>
                  <td style={{ textAlign: 'left', verticalAlign: 'top', whiteSpace: 'normal' }}>
                    {probably(alarm)}{' '}
                    <Link href={href} style={{ textDecoration: 'underline' }}>
                      Look at {name}
                    </Link>
                    .
                  </td>
                </tr>
              )
            })}
          </tbody>
        </table>
      )}
    </Box>
  )
}

export const AlarmsAwaited = () => (
  <Text fontSize="13px" color="quiet" mt="5" aria-busy="true">
    Reading ninety days of every signal …
  </Text>
)
