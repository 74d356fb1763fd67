'use client'
import type { Outcome } from '@/core/weigh/moves'

/** The range that was foreseen, and where what came stands in it. */
export function ForecastMark({ outcome: { days, foreseen, happened, held } }: { outcome: Outcome }) {
  if (days === 0) return <span>—</span>
  const most = Math.max(1, foreseen.high, happened.results) * 1.1
  const place = (results: number) => `${(100 * results) / most}%`
  return (
    <span
      className="cost-mark forecast"
      role="img"
      aria-label={held ? 'within the range' : 'outside the range'}
      data-over={held ? undefined : ''}
    >
      <span
        className="range"
        style={{
          left: place(foreseen.low),
          width: `${Math.max(2, (100 * (foreseen.high - foreseen.low)) / most)}%`,
        }}
      />
      <span className="point" style={{ left: place(happened.results) }} />
    </span>
  )
}
