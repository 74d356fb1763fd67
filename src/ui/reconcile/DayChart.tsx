'use client'
import { Box } from '@chakra-ui/react'
import type { ChartData, Chart as ChartJs, ChartOptions } from 'chart.js'
import { type PointerEvent, useMemo, useRef, useState } from 'react'
import { Chart } from 'react-chartjs-2'
import type { Scope } from '@/core/weigh/scope'
import type { ReconcileView } from '@/server/compute/views/reconcile'
import { usePanel } from '../evidence/PanelContext'
import { useFormats } from '../format'
import { dayAxis, usualChart } from '../parts/charts'
import { useResultWords } from '../shell/ResultWords'
import { useScope } from '../shell/useScope'
import { useColours } from '../useColours'

/** Mean of the last seven days, by sums: a single day's share says little. */
function weekly(days: ReconcileView['days']): (number | null)[] {
  return days.map((_, i) => {
    const week = days.slice(Math.max(0, i - 6), i + 1)
    const tracked = week.reduce((s, d) => s + d.tracked, 0)
    return tracked > 0 ? (100 * week.reduce((s, d) => s + d.both, 0)) / tracked : null
  })
}

/** Where some days stand in a chart, in px. */
function daysSpan(chart: ChartJs<'bar' | 'line'>, [from, to]: [from: number, to: number]) {
  const at = (day: number) => chart.scales.x?.getPixelForValue(day) ?? 0
  const half = (at(1) - at(0)) / 2
  return { left: at(from) - half, width: at(to) - at(from) + 2 * half }
}

/** Orders and claims by day, and the share of our tracked orders that networks claim as well. */
export function DayChart({ days, scope, of }: { days: ReconcileView['days']; scope: Scope; of: string }) {
  const { shortDay, day: nameDay } = useFormats()
  const { open } = usePanel()
  const { set } = useScope()
  const words = useResultWords()
  const [network, shop, ink, quiet, hairline] = useColours()
  const data = useMemo<ChartData<'bar' | 'line'>>(
    () => ({
      labels: days.map(d => shortDay(d.day)),
      datasets: [
        {
          type: 'line',
          label: words('captured, % of tracked orders over 7 days'),
          data: weekly(days),
          borderColor: ink,
          backgroundColor: ink,
          borderWidth: 1.5,
          pointRadius: 0,
          yAxisID: 'share',
          spanGaps: true,
        },
        {
          type: 'bar',
          label: words('orders'),
          data: days.map(d => d.orders),
          backgroundColor: shop,
          barPercentage: 0.9,
          categoryPercentage: 0.8,
        },
        {
          type: 'bar',
          label: 'claims',
          data: days.map(d => d.claims),
          backgroundColor: 'transparent',
          borderColor: network,
          borderWidth: 1.2,
          barPercentage: 0.9,
          categoryPercentage: 0.8,
        },
      ],
    }),
    [days, network, shop, ink, words, shortDay],
  )
  const options = useMemo<ChartOptions<'bar' | 'line'>>(
    () => ({
      ...usualChart,
      onClick: (event, [bar]) => {
        if (event.native && dragged.current) return
        const day = days[bar?.index ?? -1]
        if (day)
          open({
            figure: 'orders',
            scope,
            of: `${of}, ${nameDay(day.day)}`,
            shown: String(day.orders),
            day: day.day,
          })
      },
      scales: {
        x: dayAxis(quiet),
        y: {
          beginAtZero: true,
          ticks: { color: quiet, precision: 0 },
          grid: { color: hairline },
          title: { display: true, text: words('orders ■  claims □'), color: quiet },
        },
        share: {
          position: 'right',
          min: 0,
          max: 100,
          ticks: { color: quiet, callback: v => `${v} %` },
          grid: { display: false },
          title: { display: true, text: '— captured', color: quiet },
        },
      },
    }),
    [quiet, hairline, days, scope, of, open, words, nameDay],
  )
  const first = days[0]?.day
  const chart = useRef<ChartJs<'bar' | 'line'>>(null)
  /** whether the pointer went over several days: then it was no click */
  const dragged = useRef(false)
  const begun = useRef<number | null>(null)
  const [over, setOver] = useState<[from: number, to: number] | null>(null)
  /** the day below the pointer */
  const dayAt = (event: PointerEvent) => {
    const { left } = event.currentTarget.getBoundingClientRect()
    const at = chart.current?.scales.x?.getValueForPixel(event.clientX - left) ?? 0
    return Math.min(days.length - 1, Math.max(0, Math.round(at)))
  }
  const shade = over && chart.current?.chartArea && daysSpan(chart.current, over)
  return (
    <Box
      height="210px"
      position="relative"
      style={{ touchAction: 'pan-y' }}
      title="Draw over days to choose them"
      onPointerDown={event => {
        dragged.current = false
        begun.current = dayAt(event)
      }}
      onPointerMove={event => {
        if (begun.current === null) return
        const now = dayAt(event)
        if (now === begun.current && !over) return
        dragged.current = true
        setOver([Math.min(now, begun.current), Math.max(now, begun.current)])
      }}
      onPointerUp={() => {
        begun.current = null
        if (!over) return
        set({ from: days[over[0]]!.day, to: days[over[1]]!.day })
        setOver(null)
      }}
      onPointerLeave={() => {
        begun.current = null
        setOver(null)
      }}
    >
      {shade && (
        <Box
          position="absolute"
          top="0"
          bottom="24px"
          bg="mark"
          opacity="0.6"
          pointerEvents="none"
          style={shade}
        />
      )}
      {ink && (
        <Chart
          type="bar"
          data={data}
          ref={chart}
          options={options}
          role="img"
          aria-label={words(
            `Orders, claims and capture by day from ${first && nameDay(first)} to ${first && nameDay(days.at(-1)!.day)}; the same figures stand in the table below`,
          )}
        />
      )}
    </Box>
  )
}
