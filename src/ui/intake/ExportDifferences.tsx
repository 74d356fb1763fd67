import { Box, Button, Text } from '@chakra-ui/react'
import type { orderStatuses } from '@/core/intake/records'
import type { ExportDifference } from '@/server/import/shopExport'
import { useFormats } from '../format'
import { Note, Section } from '../parts/Page'
import { DataTable } from '../parts/table/DataTable'
import { type GiveRates, MissingRates } from './MissingRates'

export const statusChoices = {
  paid: 'counts',
  refunded: 'refunded: does not count',
  partially_refunded: 'partly refunded: counts, less what went back',
  cancelled: 'cancelled or not paid: does not count',
  test: 'a test: does not count',
} satisfies Record<(typeof orderStatuses)[number], string>

type Of<Holds> = ExportDifference & { holds: Holds }
interface Common {
  busy: boolean
  take: () => void
}

/** What an export of the shop would change, and the button that takes it in. */
export function ExportDifferences({
  difference,
  ...props
}: Common & {
  difference: ExportDifference
  giveRates: GiveRates
  /** compares again, once rates are there */
  again: () => void
  countIn: (currency: string) => void
}) {
  switch (difference.holds) {
    case 'orders':
      return <OrdersDifference difference={difference} {...props} />
    case 'refunds':
      return <RefundsDifference difference={difference} {...props} />
    case 'customers':
      return <CustomersDifference difference={difference} {...props} />
  }
}

const Changed = ({ changed }: { changed: readonly { id: string; before: string; after: string }[] }) =>
  changed.length > 0 && (
    <DataTable
      label="Orders that change"
      columns={[
        { id: 'order', words: true, value: o => o.id },
        { id: 'before', heading: 'as it is', words: true, value: o => o.before },
        { id: 'after', heading: 'as it would be', words: true, value: o => o.after },
      ]}
      rows={changed}
      rowId={o => o.id}
    />
  )

const Take = ({ busy, none, take, words }: Common & { none: boolean; words: string }) => (
  <Button mt="3" variant="solid" disabled={busy || none} onClick={take}>
    {words}
  </Button>
)

function OrdersDifference({
  difference: d,
  busy,
  take,
  giveRates,
  again,
  countIn,
}: Common & {
  difference: Of<'orders'>
  giveRates: GiveRates
  again: () => void
  countIn: (currency: string) => void
}) {
  const { count, day, currency, money } = useFormats()
  const orders = (of: number) => `${count(of)} ${of === 1 ? 'order' : 'orders'}`
  return (
    <Section
      title={`${orders(d.orders)}${d.first ? `, ${day(d.first)} – ${day(d.last!)}` : ''}: ${count(d.fresh)} new, ${count(d.changedCount)} changed, ${count(d.orders - d.fresh - d.changedCount)} as they are`}
      label="What it changes"
    >
      <Note>
        {Object.entries(d.statuses)
          .map(([status, of]) => `${count(of)} ${statusChoices[status as keyof typeof statusChoices]}`)
          .join('; ')}
        .
      </Note>
      <Money sums={d.money} />
      {d.totalsLine &&
        (d.totalsLine.total === d.totalsLine.orders ? (
          <Note>
            The file’s own totals line (line {d.totalsLine.line}) says the same:{' '}
            {money(d.totalsLine.total, d.totalsLine.currency)} {d.totalsLine.currency}.
          </Note>
        ) : (
          <Note alarm>
            The file’s own totals line (line {d.totalsLine.line}) says{' '}
            {money(d.totalsLine.total, d.totalsLine.currency)} {d.totalsLine.currency}; its orders come to{' '}
            {money(d.totalsLine.orders, d.totalsLine.currency)}. Check whether the right columns are picked.
          </Note>
        ))}
      {d.sums.odd.length > 0 && (
        <Note alarm>
          In {count(d.sums.odd.length)} of {count(d.sums.compared)} orders the total is not what it is made
          of, first on line {d.sums.odd[0]}: look whether the right columns are picked.
        </Note>
      )}
      {d.rejectedCount > 0 && (
        <Note alarm>
          {count(d.rejectedCount)} lines cannot be read, the first on line {d.rejected[0]!.line}:{' '}
          {d.rejected[0]!.column} “{d.rejected[0]!.value ?? ''}” {d.rejected[0]!.words}. They would be set
          aside.
        </Note>
      )}
      <MissingRates missing={d.withoutRate} quote={currency} give={giveRates} given={again}>
        {base => <Button onClick={() => countIn(base)}>Count everything in {base}</Button>}
      </MissingRates>
      <Changed changed={d.changed} />
      <Take busy={busy} none={d.orders === 0} take={take} words={`Import ${orders(d.orders)}`} />
    </Section>
  )
}

type MoneySum = Of<'orders'>['money'][number]
const statusNames: Record<(typeof orderStatuses)[number], string> = {
  paid: 'paid',
  refunded: 'refunded',
  partially_refunded: 'partly refunded',
  cancelled: 'cancelled',
  test: 'test',
}

/** What the file's orders come to, by status and month: to be held beside the shop's own totals. */
function Money({ sums }: { sums: readonly MoneySum[] }) {
  const { count, money, month } = useFormats()
  const names: Record<MoneySum['by'], (name: string) => string> = {
    all: () => 'All orders',
    status: name => statusNames[name as keyof typeof statusNames] ?? name,
    month,
  }
  return (
    <Box as="ul" aria-label="Orders and revenue in the file" listStyleType="none" fontSize="13px" mt="1">
      {sums.map(m => (
        <Text as="li" key={`${m.by} ${m.name} ${m.currency}`}>
          <b>{names[m.by](m.name)}</b>: {count(m.orders)} {m.orders === 1 ? 'order' : 'orders'}, order value{' '}
          {money(m.total, m.currency)} {m.currency}, refunds {money(m.refunded, m.currency)}, revenue{' '}
          {money(m.revenue, m.currency)}
        </Text>
      ))}
    </Box>
  )
}

function RefundsDifference({ difference: d, busy, take }: Common & { difference: Of<'refunds'> }) {
  const { count } = useFormats()
  return (
    <Section
      title={`What went back of ${count(d.orders)} orders that are held: ${count(d.changedCount)} change, ${count(d.orders - d.changedCount)} stay as they are`}
      label="What it changes"
    >
      <Note>All that the file says of an order replaces what was held as gone back of it.</Note>
      {d.unknown > 0 && (
        <Note alarm>
          {count(d.unknown)} orders of it are not held, {d.firstUnknown} for one: take them in first, then
          this file again.
        </Note>
      )}
      {d.rejectedCount > 0 && (
        <Note alarm>
          {count(d.rejectedCount)} lines cannot be read, the first on line {d.rejected[0]!.line}:{' '}
          {d.rejected[0]!.column} “{d.rejected[0]!.value ?? ''}” {d.rejected[0]!.words}.
        </Note>
      )}
      <Changed changed={d.changed} />
      <Take
        busy={busy}
        none={d.changedCount === 0}
        take={take}
        words={`Settle ${count(d.changedCount)} ${d.changedCount === 1 ? 'order' : 'orders'}`}
      />
    </Section>
  )
}

function CustomersDifference({ difference: d, busy, take }: Common & { difference: Of<'customers'> }) {
  const { count } = useFormats()
  const people = (of: number) => `${count(of)} ${of === 1 ? 'person' : 'people'}`
  return (
    <Section
      title={`${count(d.lines)} lines; ${people(d.groups)} ordered under several names, ${count(d.fresh.length)} of whom nobody knew to be one`}
      label="What it changes"
    >
      <Note>
        Who is one counts once as a customer, and an order of theirs can be proven by the clicks of any of
        their names. Each can be taken back on the page of an order.
      </Note>
      <DataTable
        label="Who is one"
        columns={[{ id: 'names', words: true, wraps: true, value: (names: string[]) => names.join(', ') }]}
        rows={d.fresh}
        rowId={names => names.join(' ')}
        empty="Nobody new."
      />
      <Take
        busy={busy}
        none={d.fresh.length === 0}
        take={take}
        words={`Make ${people(d.fresh.length)} one`}
      />
    </Section>
  )
}
