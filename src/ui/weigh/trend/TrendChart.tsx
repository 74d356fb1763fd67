'use client'
import { Box } from '@chakra-ui/react'
import type { ChartData } from 'chart.js'
import { useMemo } from 'react'
import { Chart } from 'react-chartjs-2'
import { ratio } from '@/core/weigh/figures'
import type { TrendStretch } from '@/core/weigh/trend'
import { useFormats } from '../../format'
import { dayAxis, usualChart } from '../../parts/charts'
import { useResultWords } from '../../shell/ResultWords'
import { useColours } from '../../useColours'

/** What is spent, and what a result cost of it with its range, over time; the row's line stands across. */
export function TrendChart({
  stretches,
  line,
  marked,
  label,
  height,
  small = false,
}: {
  stretches: readonly TrendStretch[]
  line: number | null
  /** stretches in which somebody changed something */
  marked: readonly boolean[]
  label: string
  height: string
  small?: boolean
}) {
  const { shortDay, money, tenths, currency } = useFormats()
  const words = useResultWords()
  const [network, shop, ink, quiet, hairline] = useColours()
  const data = useMemo<ChartData<'bar' | 'line'>>(() => {
    const bound = (results: 'low' | 'high') =>
      stretches.map(one => (one.spend > 0 ? ratio(one.spend, one[results]) : null))
    const edge = (data: (number | null)[], fill: string | false) => ({
      type: 'line' as const,
      label: '',
      data,
      borderWidth: 0,
      pointRadius: 0,
      fill,
      backgroundColor: `color-mix(in srgb, ${shop} 22%, transparent)`,
      yAxisID: 'cost',
    })
    return {
      labels: stretches.map(one => shortDay(one.from)),
      datasets: [
        edge(bound('high'), false),
        edge(bound('low'), '-1'),
        {
          type: 'line',
          label: words('an order cost'),
          data: stretches.map(one => one.cost),
          borderColor: shop,
          backgroundColor: shop,
          borderWidth: 2,
          pointRadius: small ? 0 : 2,
          yAxisID: 'cost',
          spanGaps: false,
        },
        ...(line === null
          ? []
          : [
              {
                type: 'line' as const,
                label: 'its line',
                data: stretches.map(() => line),
                borderColor: ink,
                borderWidth: 1,
                pointRadius: 0,
                yAxisID: 'cost',
              },
            ]),
        {
          type: 'line',
          label: 'something was changed',
          data: stretches.map((_, i) => (marked[i] ? 0 : null)),
          borderColor: ink,
          backgroundColor: ink,
          showLine: false,
          pointRadius: small ? 3 : 6,
          pointStyle: 'triangle',
          yAxisID: 'cost',
        },
        {
          type: 'bar',
          label: 'spend',
          data: stretches.map(one => one.spend),
          backgroundColor: 'transparent',
          borderColor: network,
          borderWidth: 1.2,
          barPercentage: 0.9,
          categoryPercentage: 0.85,
          yAxisID: 'spend',
        },
      ],
    }
  }, [stretches, line, marked, small, network, shop, ink, words, shortDay])
  return (
    <Box height={height}>
      {ink && (
        <Chart
          type="bar"
          role="img"
          aria-label={label}
          data={data}
          options={{
            ...usualChart,
            plugins: {
              tooltip: {
                filter: ({ dataset }) => dataset.label !== '',
                callbacks: {
                  label: ({ dataset, raw, dataIndex }) =>
                    dataset.label === 'something was changed'
                      ? 'something was changed'
                      : `${dataset.label}: ${money(Math.round(Number(raw)))} ${currency}${
                          dataset.type === 'bar'
                            ? words(` for ${tenths(stretches[dataIndex]?.results ?? 0)} orders`)
                            : ''
                        }`,
                },
              },
            },
            scales: {
              x: dayAxis(quiet, !small),
              cost: {
                beginAtZero: true,
                ticks: {
                  color: quiet,
                  maxTicksLimit: small ? 3 : 6,
                  callback: value => money(Number(value)),
                },
                grid: { color: hairline },
                title: { display: !small, text: words(`— an order cost, ${currency}`), color: quiet },
              },
              spend: {
                position: 'right',
                beginAtZero: true,
                display: !small,
                ticks: { color: quiet, callback: value => money(Number(value)) },
                grid: { display: false },
                title: { display: true, text: `□ spend, ${currency}`, color: quiet },
              },
            },
          }}
        />
      )}
    </Box>
  )
}
