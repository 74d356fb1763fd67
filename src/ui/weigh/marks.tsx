'use client'
import type { VerdictKind } from '@/core/weigh/verdict'
import type { Spark } from '@/server/compute/views/weigh'

/** Costs are drawn from a quarter of the line to four times it, by their logarithm: the line stands in the middle. */
const SPAN = Math.log(4)
const placeOf = (cost: number, line: number) =>
  50 + 50 * Math.max(-1, Math.min(1, Math.log(cost / line) / SPAN))

/** What a result costs, with its range, against the row's own line. */
export function CostMark({
  cost,
  low,
  high,
  line,
}: {
  cost: number | null
  low: number | null
  high: number | null
  line: number | null
}) {
  if (line === null || line <= 0) return <span className="cost-mark" />
  const from = low === null ? 100 : placeOf(low, line)
  const to = high === null ? 100 : placeOf(high, line)
  const over = cost !== null && cost > line
  return (
    <span className="cost-mark" aria-hidden data-over={over ? '' : undefined}>
      {(low !== null || high !== null) && (
        <span
          className="range"
          style={{ left: `${Math.min(from, to)}%`, width: `${Math.max(2, Math.abs(to - from))}%` }}
        />
      )}
      {cost !== null && <span className="point" style={{ left: `${placeOf(cost, line)}%` }} />}
      <span className="line" />
    </span>
  )
}

/** How likely more spend pays for itself: a place between cut and raise. */
export function ChanceMark({ probability, kind }: { probability: number | null; kind: VerdictKind }) {
  return (
    <span className="chance-mark" aria-hidden>
      {probability !== null && <span data-kind={kind} style={{ left: `${100 * probability}%` }} />}
    </span>
  )
}

/** What a result cost over the period, in equal stretches; where nothing came the line breaks. */
export function SparkLine({ spark }: { spark: Spark | undefined }) {
  if (!spark) return null
  const costs = spark.spend.map((spend, i) => (spark.results[i]! > 0 ? spend / spark.results[i]! : null))
  const known = costs.filter(cost => cost !== null)
  if (known.length < 2) return null
  const [least, most] = [Math.min(...known), Math.max(...known)]
  const y = (cost: number) => (most > least ? 15 - (13 * (cost - least)) / (most - least) : 8)
  const x = (i: number) => 1 + (58 * i) / Math.max(1, costs.length - 1)
  let pen = false
  const path = costs
    .map((cost, i) => {
      if (cost === null) {
        pen = false
        return ''
      }
      const step = `${pen ? 'L' : 'M'}${x(i).toFixed(1)} ${y(cost).toFixed(1)}`
      pen = true
      return step
    })
    .join('')
  return (
    <svg width="60" height="17" aria-hidden className="spark">
      <path d={path} />
    </svg>
  )
}

/** A figure with its range behind it, lighter and smaller. The elements themselves: it stands in every row. */
export const Ranged = ({ range, children }: { range: string; children: React.ReactNode }) => (
  <span className="ranged">
    {children}
    <span className="beside">{range}</span>
  </span>
)
