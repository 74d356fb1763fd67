import type { compareFolder } from '@/server/comparison'

const cell = (value: number | null, digits = 2) => (value === null ? '—' : value.toFixed(digits))

/** A comparison as a table for a terminal, and what it means. */
export function printComparison({
  first,
  second,
  parts,
  change_days,
  sentence,
}: Awaited<ReturnType<typeof compareFolder>>): void {
  const line = (name: string, ...cells: string[]) =>
    console.log(name.padEnd(18) + cells.map(text => text.padStart(24)).join(''))
  line('', `${first.from}..${first.to}`, `${second.from}..${second.to}`)
  const rows: [name: string, digits: number, of: (side: typeof first) => number | null][] = [
    ['spend', 2, side => side.spend],
    ['impressions', 0, side => side.impressions],
    ['clicks', 0, side => side.clicks],
    ['estimated results', 1, side => side.estimated],
    ['claimed', 0, side => side.claimed],
    ['cost per claim', 2, side => side.cost_per_claim],
    ['cost per result', 2, side => side.cost_per_result],
    ['capture', 2, side => side.capture],
  ]
  for (const [name, digits, of] of rows) line(name, cell(of(first), digits), cell(of(second), digits))
  console.log('')
  for (const { part, log, low, high, share } of parts)
    line(
      part,
      `${cell(log, 3)} (${cell(low, 3)} to ${cell(high, 3)})`,
      share === null ? '—' : `${Math.round(share * 100)} %`,
    )
  for (const { of, day, from, to, probability } of change_days)
    console.log(`${of} changed on ${day} (${from} to ${to}; by chance ${(probability * 100).toFixed(1)} %)`)
  console.log(`\n${sentence}`)
}
