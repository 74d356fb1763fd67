'use client'
import { Box } from '@chakra-ui/react'
import { useMemo } from 'react'
import { Line } from 'react-chartjs-2'
import { formatDay, inPeriod, type Period } from '@/core/shared/days'
import { ratio } from '@/core/weigh/figures'
import type { ChangedView } from '@/server/compute/views/changed'
import { useFormats } from '../format'
import { dayAxis, usualChart } from '../parts/charts'
import { useColours } from '../useColours'

type Days = ChangedView['days']
const WEEK = 7

/** A ratio of sums over the last seven days: a single day's says little. */
const weekly = (days: Days, over: keyof Days[number], under: keyof Days[number]) =>
  days.map((_, i) => {
    const week = days.slice(Math.max(0, i - WEEK + 1), i + 1)
    const sum = (of: keyof Days[number]) => week.reduce((all, day) => all + day[of], 0)
    return ratio(sum(over), sum(under))
  })

/** What a claim and what a result cost by day, and how much of the results was claimed. */
export function ChangedChart({
  days,
  first,
  second,
  marks,
}: {
  days: Days
  first: Period
  second: Period
  /** days on which somebody changed something, `YYYY-MM-DD` */
  marks: ReadonlySet<string>
}) {
  const { shortDay, money, currency } = useFormats()
  const [network, shop, ink, quiet, hairline] = useColours()
  const data = useMemo(() => {
    const line = (label: string, values: (number | null)[], colour: string, more = {}) => ({
      label,
      data: values,
      borderColor: colour,
      backgroundColor: colour,
      borderWidth: 1.5,
      pointRadius: 0,
      spanGaps: true,
      // Days that are in neither period are there for the way between them.
      segment: {
        borderColor: ({ p1DataIndex: i }: { p1DataIndex: number }) => {
          const day = days[i]?.day ?? 0
          return inPeriod(day, first) || inPeriod(day, second) ? colour : hairline
        },
      },
      ...more,
    })
    return {
      labels: days.map(one => shortDay(formatDay(one.day))),
      datasets: [
        line('a claim cost', weekly(days, 'spend', 'claimed'), network ?? '', { borderDash: [5, 3] }),
        line('a result cost', weekly(days, 'spend', 'estimated'), ink ?? ''),
        line(
          'capture, %',
          weekly(days, 'claimed', 'estimated').map(share => (share === null ? null : share * 100)),
          shop ?? '',
          { yAxisID: 'share' },
        ),
        line(
          'something was changed',
          days.map(one => (marks.has(formatDay(one.day)) ? 0 : null)),
          quiet ?? '',
          { showLine: false, spanGaps: false, pointRadius: 5, pointStyle: 'triangle' },
        ),
      ],
    }
  }, [days, first, second, marks, network, shop, ink, quiet, hairline, shortDay])
  return (
    <Box height="200px" mt="3">
      {ink && (
        <Line
          role="img"
          aria-label="What a claim and a result cost, and capture, over seven days each; the sums of both periods stand in the tables below"
          data={data}
          options={{
            ...usualChart,
            plugins: {
              tooltip: {
                callbacks: {
                  label: ({ dataset, raw }) =>
                    'pointStyle' in dataset
                      ? `${dataset.label}`
                      : `${dataset.label}: ${'yAxisID' in dataset ? `${Math.round(Number(raw))} %` : `${money(Math.round(Number(raw)))} ${currency}`}`,
                },
              },
            },
            scales: {
              x: dayAxis(quiet),
              y: {
                beginAtZero: true,
                ticks: { color: quiet, callback: value => money(Math.round(Number(value))) },
                grid: { color: hairline },
                title: { display: true, text: `- - a claim, — a result cost, ${currency}`, color: quiet },
              },
              share: {
                position: 'right',
                beginAtZero: true,
                ticks: { color: shop, callback: value => `${value} %` },
                grid: { display: false },
                title: { display: true, text: '— claims per order', color: shop },
              },
            },
          }}
        />
      )}
    </Box>
  )
}
