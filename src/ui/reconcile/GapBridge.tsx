'use client'
import { Box } from '@chakra-ui/react'
import { BarController, BarElement, CategoryScale, Chart as ChartJs, LinearScale, Tooltip } from 'chart.js'
import { Bar } from 'react-chartjs-2'
import { causes, claimCauses, type GapCause, orderCauses } from '@/core/evidence/causes'
import type { Gap } from '@/core/evidence/gap'
import { useFormats } from '../format'
import { useResultWords } from '../shell/ResultWords'
import { useColours } from '../useColours'

ChartJs.register(BarController, BarElement, CategoryScale, LinearScale, Tooltip)

type Side = 'network' | 'both' | 'shop'

/**
 * The steps from the networks' claims over what stands on both sides to the shop's orders, each as high as it has
 * claims or orders, or as they are worth.
 */
function bridgeOf(gap: Gap, by: 'count' | 'value'): { label: string; span: [number, number]; side: Side }[] {
  const [claims, orders] = by === 'count' ? [gap.claims, gap.orders] : [gap.claimsValue, gap.ordersValue]
  let at = claims
  const step = (cause: GapCause, sign: -1 | 1, side: Side) => {
    const next = at + sign * gap.causes.find(line => line.cause === cause)![by]
    const span: [number, number] = [at, next]
    at = next
    return { label: causes[cause].short, span, side }
  }
  const steps = [
    { label: 'claims', span: [0, claims] as [number, number], side: 'network' as const },
    ...claimCauses.map(cause => step(cause, -1, 'network')),
    { label: 'in both', span: [0, at] as [number, number], side: 'both' as const },
    ...(by === 'value' ? [step('value_differs', 1, 'both')] : []),
    ...orderCauses.map(cause => step(cause, 1, 'shop')),
  ]
  return [...steps, { label: 'orders', span: [0, orders], side: 'shop' }]
}

export function GapBridge({ gap, by }: { gap: Gap; by: 'count' | 'value' }) {
  const { count, money } = useFormats()
  const written = (amount: number) => (by === 'count' ? count(amount) : money(amount))
  const words = useResultWords()
  const [network, shop, ink, quiet, hairline] = useColours()
  const steps = bridgeOf(gap, by)
  const colours = { network: network!, both: ink!, shop: shop! }
  return (
    <Box height="210px">
      {network && (
        <Bar
          role="img"
          aria-label={words(
            `From ${gap.claims} claims to ${gap.orders} orders; each step stands in the table below`,
          )}
          data={{
            labels: steps.map(one => words(one.label)),
            datasets: [
              {
                data: steps.map(one => one.span),
                // The networks’ side is hollow, the shop’s solid, as everywhere.
                backgroundColor: steps.map(one =>
                  one.side === 'network' ? 'transparent' : colours[one.side],
                ),
                borderColor: steps.map(one => colours[one.side]),
                borderWidth: 1.5,
                borderSkipped: false,
                barPercentage: 0.7,
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
                    const [from, to] = raw as [number, number]
                    return `${to < from ? '−' : ''}${written(Math.abs(to - from))}`
                  },
                },
              },
            },
            scales: {
              x: {
                ticks: { color: quiet, maxRotation: 0, autoSkip: false, font: { size: 11 } },
                grid: { display: false },
              },
              y: {
                beginAtZero: true,
                ticks: { color: quiet, precision: 0, callback: value => written(Number(value)) },
                grid: { color: hairline },
              },
            },
          }}
        />
      )}
    </Box>
  )
}
