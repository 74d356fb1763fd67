'use client'
import { Box } from '@chakra-ui/react'
import { BarController, BarElement, CategoryScale, Chart as ChartJs, LinearScale, Tooltip } from 'chart.js'
import { useMemo } from 'react'
import { Bar } from 'react-chartjs-2'
import type { ChangedView } from '@/server/compute/views/changed'
import { useFormats } from '../format'
import { useColours } from '../useColours'
import { partWords } from './partWords'

ChartJs.register(BarController, BarElement, CategoryScale, LinearScale, Tooltip)

/** From what a claimed result cost before to what it costs after, by its four parts. */
export function PartsBridge({ whole }: { whole: ChangedView['whole'] }) {
  const { money, currency } = useFormats()
  const [network, shop, ink, quiet, hairline] = useColours()
  const { first, second, parts, logChange } = whole
  const [from, to] = [first.costPerClaim ?? 0, second.costPerClaim ?? 0]
  const steps = useMemo(() => {
    let at = from
    return parts.map(({ part, log }) => {
      const next = at + (logChange ? ((to - from) * (log ?? 0)) / logChange : 0)
      const step = { part, span: [at, next] as [number, number] }
      at = next
      return step
    })
  }, [parts, from, to, logChange])
  const written = (minor: number) => money(Math.round(minor))
  return (
    <Box height="190px" maxWidth="52rem">
      {ink && (
        <Bar
          role="img"
          aria-label={`A claimed result cost ${written(from)} ${currency} before and ${written(to)} after; the steps between stand in the table below`}
          data={{
            labels: ['before', ...parts.map(({ part }) => partWords[part].name), 'after'],
            datasets: [
              {
                data: [[0, from], ...steps.map(one => one.span), [0, to]],
                // What is tracking alone is the network's colour; what is real is ink.
                backgroundColor: [
                  quiet!,
                  ...parts.map(({ part }) => (part === 'capture' ? 'transparent' : ink)),
                  quiet!,
                ],
                borderColor: [
                  quiet!,
                  ...parts.map(({ part }) => (part === 'capture' ? network! : ink)),
                  quiet!,
                ],
                borderWidth: 1.5,
                borderSkipped: false,
                minBarLength: 2,
                barPercentage: 0.6,
              },
            ],
          }}
          options={{
            animation: false,
            maintainAspectRatio: false,
            plugins: {
              tooltip: {
                callbacks: {
                  label: ({ raw }) => {
                    const [start, end] = raw as [number, number]
                    return `${end < start ? '−' : start === 0 ? '' : '+'}${written(Math.abs(end - start))} ${currency}`
                  },
                },
              },
            },
            scales: {
              x: { ticks: { color: quiet }, grid: { display: false } },
              y: {
                beginAtZero: true,
                ticks: { color: quiet, callback: value => written(Number(value)) },
                grid: { color: hairline },
                title: { display: true, text: `a claim costs, ${currency}`, color: shop && quiet },
              },
            },
          }}
        />
      )}
    </Box>
  )
}
