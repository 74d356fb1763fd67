import { Box, Button, Text } from '@chakra-ui/react'
import type { DaySum } from '@/core/intake/reports/read'
import type { ReportDifference } from '@/server/import/report'
import { UNKNOWN, useFormats } from '../format'
import type { Column } from '../parts/table/columns'
import { DataTable } from '../parts/table/DataTable'

type Figure = 'spend' | 'impressions' | 'clicks' | 'claims' | 'value'

/** The days of a report beside what is held of them. Taken in, each replaces its day. */
export function ReportDays({
  difference: { days, currency, tells, rejected, rejectedCount, totals, laid, cut, conversions, hidden },
  name,
  take,
  busy,
}: {
  difference: ReportDifference
  name: string
  take: () => void
  busy: boolean
}) {
  const { money, count, day } = useFormats()
  const figures: Figure[] = [
    ...(tells.spend ? (['spend', 'impressions', 'clicks'] as const) : []),
    ...(tells.claims ? (['claims', 'value'] as const) : []),
  ]
  const show = (figure: Figure, sum: DaySum | null) =>
    sum === null
      ? UNKNOWN
      : figure === 'spend' || figure === 'value'
        ? money(sum[figure], currency)
        : count(sum[figure])
  const changes = days.filter(d => d.before && figures.some(f => d.before![f] !== d.after[f]))
  const fresh = days.filter(d => !d.before)
  const same = days.length - changes.length - fresh.length
  const spent = (side: 'before' | 'after') => days.reduce((sum, d) => sum + (d[side]?.spend ?? 0), 0)
  return (
    <Box as="section" aria-label="What it changes" mt="5">
      <Text as="h2" fontSize="16px" fontWeight="650">
        {count(changes.length)} {changes.length === 1 ? 'day changes' : 'days change'}, {count(fresh.length)}{' '}
        {fresh.length === 1 ? 'is' : 'are'} new, {count(same)} {same === 1 ? 'stays' : 'stay'} as{' '}
        {same === 1 ? 'it is' : 'they are'}
        {tells.spend &&
          `; spend on these days goes from ${money(spent('before'), currency)} to ${money(spent('after'), currency)} ${currency}`}
        .
      </Text>
      {conversions.length > 1 && (
        <Text fontSize="13px">
          Conversions:{' '}
          {conversions
            .map(
              one =>
                `${count(one.count)} “${one.conversion}”${one.value > 0 ? ` worth ${money(one.value, currency)} ${currency}` : ''}`,
            )
            .join(', ')}
          . Each is imported as what it is.
        </Text>
      )}
      {hidden > 0 && (
        <Text fontSize="13px" color="network">
          {count(hidden)} {hidden === 1 ? 'figure is' : 'figures are'} only said to be below a number, such as
          “&lt;10”: {hidden === 1 ? 'it counts' : 'they count'} as 0.
        </Text>
      )}
      {laid > 0 && (
        <Text fontSize="13px" color="quiet">
          {laid === 1 ? 'One sum covers' : `${count(laid)} sums cover`} more than a day: each is spread evenly
          over its days, and figures that use them say so.
        </Text>
      )}
      {cut.map(({ from, to }) => (
        <Text key={from} fontSize="13px" color="network">
          {day(from)} – {day(to)} is held as one sum. Of it only the days of this report are replaced; the
          other days keep their even share.
        </Text>
      ))}
      {totals > 0 && (
        <Text fontSize="13px" color="quiet">
          {count(totals)} {totals === 1 ? 'line' : 'lines'} without a day left out: totals.
        </Text>
      )}
      {rejectedCount > 0 && (
        <Text fontSize="13px" color="alarm">
          {count(rejectedCount)} rows cannot be read, the first on line {rejected[0]!.line}:{' '}
          {rejected[0]!.column} “{rejected[0]!.value}” {rejected[0]!.words}. They would be set aside.
        </Text>
      )}
      <Box maxHeight="340px" display="flex" flexDirection="column" mt="2">
        <DataTable
          label="Days"
          height="340px"
          columns={[
            {
              id: 'day',
              words: true,
              value: d => d.day,
              cell: d => (
                <>
                  {day(d.day)} {d.before === null && <small>new</small>}
                </>
              ),
            },
            ...figures.map(
              (f): Column<(typeof days)[number]> => ({
                id: f,
                heading: f === 'spend' || f === 'value' ? `${f}, ${currency}` : f,
                ...(f === 'spend' || f === 'value' ? { as: 'amount', currency: () => currency } : {}),
                value: d => d.after[f],
                cell: ({ before, after }) =>
                  before !== null && before[f] !== after[f] ? (
                    <b>
                      <s style={{ opacity: 0.75, marginRight: 8, fontWeight: 400 }}>{show(f, before)}</s>
                      {show(f, after)}
                    </b>
                  ) : (
                    show(f, after)
                  ),
              }),
            ),
          ]}
          rows={days}
          rowId={d => d.day}
          sorted={[{ id: 'day', desc: true }]}
        />
      </Box>
      {days.length > 0 && (
        <Button mt="3" disabled={busy} onClick={take}>
          Replace {count(days.length)} {days.length === 1 ? 'day' : 'days'} of {name}
        </Button>
      )}
    </Box>
  )
}
