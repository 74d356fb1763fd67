import { Box, Text } from '@chakra-ui/react'
import Link from 'next/link'
import { formatDay, zoneClock } from '@/core/shared/days'
import type { Alarm } from '@/server/signals/alarms'
import { count } from '../format'
import { useNetworkName } from '../shell/NetworkNames'

interface Words {
  /** what was seen */
  said: (alarm: Alarm) => string
  /** what it probably is, and what to do */
  probably: string
  /** where its evidence stands */
  look: (alarm: Alarm, days: { from: string; to: string }) => { href: string; name: string }
}
const inIntake = (kind: string) => `/intake?kind=${kind}`
const whole = (n: number) => count(Math.round(n))

const words: Record<Alarm['kind'], Words> = {
  repeats: {
    said: a => `${whole(a.repeats)} of ${whole(a.seen)} in a day had been told before`,
    probably:
      'A thank-you page that is reloaded, or a tag that fires twice. We count each once; the network may not.',
    look: (a, { from, to }) =>
      a.receiver === 'Aequant'
        ? { href: inIntake('event'), name: 'the events' }
        : {
            href: `/reconcile?from=${from}&to=${to}&network=${a.receiver}`,
            name: 'its repeated claims in those days',
          },
  },
  flood: {
    said: a => `${whole(a.seen)} in a day where ${whole(a.expected)} are usual`,
    probably: 'It fires on too many pages, or a page is reloaded; or something really happened.',
    look: () => ({ href: inIntake('event'), name: 'the events' }),
  },
  quiet: {
    said: a => `nothing came where ${whole(a.expected)} were expected`,
    probably: 'The code is gone from the page, or shoppers no longer got there.',
    look: () => ({ href: '/signals/live-test', name: 'a live test' }),
  },
  lost_clicks: {
    said: a => `of ${whole(a.expected)} clicks that the network billed ${whole(a.seen)} arrived`,
    probably: 'Its link is broken, or leads past the tracking domain.',
    look: a => ({ href: `/links?ad=${a.receiver}/${a.ad?.id}`, name: 'its link' }),
  },
}

/** What was not as usual: since when, what it probably is, and where to look. */
export function Alarms({ alarms, zone }: { alarms: Alarm[]; zone: string }) {
  const networkName = useNetworkName()
  const clock = zoneClock(zone)
  const dayOf = (at: number) => formatDay(clock(at).day)
  return (
    <Box as="section" mt="5" aria-label="Not as usual">
      <Text as="h2" fontSize="16px" fontWeight="650">
        Not as usual in this period
      </Text>
      {alarms.length === 0 ? (
        <Text fontSize="13px" color="quiet">
          Every signal was heard as often as usual, and every ad’s clicks arrived.
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
                    {probably}{' '}
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
