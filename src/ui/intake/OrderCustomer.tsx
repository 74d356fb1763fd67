import { Box, Text } from '@chakra-ui/react'
import type { DescribedOrder } from '@/server/arrivals/order'
import { useFormats } from '../format'
import { DataTable } from '../parts/table/DataTable'
import { WordLink } from '../parts/WordLink'

/** The customer of an order: what they ordered before and after, and what it came to. */
export function OrderCustomer({
  customer,
  current,
}: {
  customer: DescribedOrder['customer']
  current: string
}) {
  const { count, money, instant, dayAt, zone } = useFormats()
  if (!customer)
    return (
      <Text mt="4" color="quiet">
        The shop names no customer, so orders before and after cannot be told.
      </Text>
    )
  const { currency, counting, lifetime, average, refunded, orders } = customer
  const at = orders.findIndex(o => o.id === current) + 1
  return (
    <Box as="section" aria-label="Customer" mt="4">
      <Text as="h2" fontWeight="650">
        Order {count(at)} of {count(orders.length)} of this customer
      </Text>
      <Text>
        {count(counting)} {counting === 1 ? 'order counts' : 'orders count'}, worth{' '}
        {money(lifetime, currency)} {currency} so far, {money(average, currency)} on average;{' '}
        {money(refunded, currency)} went back.
      </Text>
      <DataTable
        label="Orders of this customer"
        columns={[
          {
            id: 'order',
            words: true,
            value: o => o.id,
            cell: o =>
              o.id === current ? (
                o.id
              ) : (
                <WordLink href={`/intake/orders/${encodeURIComponent(o.id)}`}>{o.id}</WordLink>
              ),
          },
          {
            id: 'when',
            words: true,
            value: o => o.at,
            as: 'instant',
            cell: o => <span title={`${instant(o.at)} ${zone}`}>{dayAt(o.at)}</span>,
          },
          { id: 'status', words: true, value: o => o.status.replace('_', ' ') },
          {
            id: 'total',
            value: o => o.total,
            copied: o => `${money(o.total, o.currency)} ${o.currency}`,
            cell: o => `${money(o.total, o.currency)} ${o.currency}`,
          },
        ]}
        rows={orders}
        rowId={o => o.id}
        chosen={current}
      />
    </Box>
  )
}
