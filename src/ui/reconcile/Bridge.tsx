'use client'
import { Box } from '@chakra-ui/react'
import { Bar } from 'react-chartjs-2'
import { usualChart } from '../parts/charts'
import { useColours } from '../useColours'

/** One step of a bridge: from where to where, and of which side it is; the networks' is hollow, as everywhere. */
export interface BridgeStep {
  label: string
  span: [from: number, to: number]
  side: 'network' | 'both' | 'shop' | 'whole'
}

/** Steps that lead from one figure to another. */
export function Bridge({
  label,
  steps,
  written,
  axis,
}: {
  /** what it shows, read out */
  label: string
  steps: readonly BridgeStep[]
  written: (amount: number) => string
  /** what the heights are of, where it is not plain */
  axis?: string
}) {
  const [network, shop, ink, quiet, hairline] = useColours()
  const colours = { network: network!, both: ink!, shop: shop!, whole: quiet! }
  return (
    <Box height="210px">
      {ink && (
        <Bar
          role="img"
          aria-label={label}
          data={{
            labels: steps.map(one => one.label),
            datasets: [
              {
                data: steps.map(one => one.span),
                backgroundColor: steps.map(one =>
                  one.side === 'network' ? 'transparent' : colours[one.side],
                ),
                borderColor: steps.map(one => colours[one.side]),
                borderWidth: 1.5,
                borderSkipped: false,
                minBarLength: axis ? 2 : 0,
                barPercentage: 0.7,
              },
            ],
          }}
          options={{
            ...usualChart,
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
                title: { display: axis !== undefined, text: axis ?? '', color: quiet },
              },
            },
          }}
        />
      )}
    </Box>
  )
}
