'use client'
import { formatDay, parseDay, weekdayOf } from '@/core/shared/days'
import { ratio } from '@/core/weigh/figures'
import type { Scope } from '@/core/weigh/scope'
import type { ReconcileView } from '@/server/compute/views/reconcile'
import { FigureLink } from '../evidence/PanelContext'
import { useFormats } from '../format'
import { SelectField } from '../parts/Fields'
import { Section } from '../parts/Page'
import type { Column } from '../parts/table/columns'
import { DataTable } from '../parts/table/DataTable'
import { useResultWords } from '../shell/ResultWords'
import { useAddressed } from '../shell/useScope'

interface Row {
  /** its first and last day, `YYYY-MM-DD` */
  from: string
  to: string
  orders: number
  claims: number
  matched: number
  tracked: number
  both: number
  spend: number
}
const sums = ['orders', 'claims', 'matched', 'tracked', 'both', 'spend'] as const
const TENTH = 1.2816

/** Days as they are, by the weeks that they lie in, or all in one. */
function linesOf(days: ReconcileView['days'], by: 'day' | 'week' | 'whole', firstWeekday: number): Row[] {
  const lines: Row[] = []
  for (const { day, capture: _, ...own } of days) {
    const last = lines.at(-1)
    const begins = by === 'week' && weekdayOf(parseDay(day)!) === firstWeekday
    if (by === 'day' || !last || begins) lines.push({ from: day, to: day, ...own })
    else {
      last.to = day
      for (const sum of sums) last[sum] += own[sum]
    }
  }
  return lines
}

/** Every day of the period, also those of which nothing is known. */
function everyDay(days: ReconcileView['days']): ReconcileView['days'] {
  const [first, last] = [days[0], days.at(-1)].map(one => one && parseDay(one.day))
  if (first == null || last == null) return []
  const known = new Map(days.map(one => [one.day, one]))
  return Array.from({ length: last - first + 1 }, (_, i) => {
    const day = formatDay(first + i)
    return (
      known.get(day) ?? {
        day,
        orders: 0,
        claims: 0,
        matched: 0,
        tracked: 0,
        both: 0,
        spend: 0,
        capture: null,
      }
    )
  })
}

/** The two sides by day or week, with the share of tracked orders that networks claim. */
export function DayTable({ days, scope, of }: { days: ReconcileView['days']; scope: Scope; of: string }) {
  const { day: nameDay, percent, count, currency, firstWeekday } = useFormats()
  const words = useResultWords()
  const [chosen, choose] = useAddressed('lines', 'week')
  const by = chosen === 'day' ? 'day' : 'week'
  const named = ({ from, to }: Row) => (from === to ? nameDay(from) : `${nameDay(from)} – ${nameDay(to)}`)
  const figure = (id: 'orders' | 'claims' | 'matched', heading: string): Column<Row> => ({
    id,
    heading: words(heading),
    value: row => row[id],
    cell: row =>
      row.from === row.to ? (
        <FigureLink
          figure={id}
          scope={scope}
          of={`${of}, ${named(row)}`}
          shown={count(row[id])}
          day={row.from}
        />
      ) : (
        count(row[id])
      ),
  })
  const rows = linesOf(everyDay(days), by, firstWeekday)
  const [total = null] = linesOf(days, 'whole', firstWeekday)
  return (
    <Section title="By day or week" label="Both sides by day or week">
      <DataTable<Row>
        label={by === 'day' ? 'By day' : 'By week'}
        columns={[
          { id: by, words: true, value: row => row.from, cell: named },
          figure('claims', 'claims'),
          figure('matched', 'in both'),
          figure('orders', 'orders'),
          { id: 'spend', heading: `spend, ${currency}`, as: 'amount', value: row => row.spend },
          {
            id: 'capture',
            heading: words('captured'),
            value: row => ratio(row.both, row.tracked),
            cell: row => percent(ratio(row.both, row.tracked)),
          },
          {
            id: 'range',
            heading: 'range of it',
            hint: 'Between these lies the share with 80 % likelihood: few orders tell little.',
            value: row => rangeOf(row)?.[0] ?? null,
            cell: row =>
              rangeOf(row)
                ?.map(share => percent(share))
                .join(' – ') ?? '—',
          },
        ]}
        rows={rows}
        rowId={row => row.from}
        total={total}
        tools
        bar={
          <SelectField
            unseen
            label="Each line is"
            value={by}
            change={choose}
            choices={[
              ['week', 'by week'],
              ['day', 'by day'],
            ]}
          />
        }
      />
    </Section>
  )
}

/** Between what a share lies, of so many (Wilson 1927). */
function rangeOf({ both, tracked }: Row): [low: number, high: number] | null {
  if (tracked <= 0) return null
  const share = Math.min(1, both / tracked)
  const z2 = TENTH ** 2
  const middle = (share + z2 / (2 * tracked)) / (1 + z2 / tracked)
  const reach =
    (TENTH * Math.sqrt((share * (1 - share)) / tracked + z2 / (4 * tracked ** 2))) / (1 + z2 / tracked)
  return [Math.max(0, middle - reach), Math.min(1, middle + reach)]
}
