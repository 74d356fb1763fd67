'use client'
import { Box } from '@chakra-ui/react'
import { useMemo } from 'react'
import { Bar } from 'react-chartjs-2'
import type { Minutes } from '@/server/arrivals/latest'
import { useFormats } from '../format'
import { usualChart } from '../parts/charts'
import { useColours } from '../useColours'
import { arrivalKinds } from './arrivalKinds'

const MINUTE_MS = 60_000
type Counted = keyof Minutes['counts']
const kinds: readonly Counted[] = ['click', 'event', 'hop', 'postback', 'order']

/** Arrivals by the minute of an hour: the network's side below, the shop's on top. */
export function MinuteChart({ minutes: { until, counts } }: { minutes: Minutes }) {
  const { count, minute } = useFormats()
  const [network, shop, ink, quiet, hairline] = useColours()
  const sides: Record<string, string | undefined> = { network, shop, ink }
  const time = useMemo(() => {
    const length = counts.click.length
    return Array.from({ length }, (_, i) => minute(until - (length - 1 - i) * MINUTE_MS))
  }, [until, counts, minute])
  const sum = (list: readonly number[]) => list.reduce((a, b) => a + b, 0)
  const all = kinds.map(kind => `${count(sum(counts[kind]))} ${arrivalKinds[kind].many}`).join(', ')
  return (
    <Box
      height="64px"
      mt="1"
      role="img"
      aria-label={`From ${time[0]} to ${time.at(-1)}, by the minute: ${all}`}
    >
      <Bar
        aria-hidden
        role="presentation"
        data={{
          labels: time,
          datasets: kinds.map(kind => ({
            label: arrivalKinds[kind].many,
            data: counts[kind],
            backgroundColor: sides[arrivalKinds[kind].side],
            stack: 'all',
            barPercentage: 0.86,
            categoryPercentage: 1,
          })),
        }}
        options={{
          ...usualChart,
          plugins: { legend: { display: false }, tooltip: { filter: item => Number(item.raw) > 0 } },
          scales: {
            x: {
              stacked: true,
              grid: { display: false },
              border: { color: hairline },
              ticks: { color: quiet, font: { size: 10 }, maxRotation: 0, autoSkip: true, maxTicksLimit: 7 },
            },
            y: {
              stacked: true,
              beginAtZero: true,
              border: { display: false },
              grid: { color: hairline },
              ticks: { color: quiet, font: { size: 10 }, maxTicksLimit: 3, precision: 0 },
            },
          },
        }}
      />
    </Box>
  )
}
