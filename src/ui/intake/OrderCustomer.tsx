import { Box, Text } from '@chakra-ui/react'
import Link from 'next/link'
import type { DescribedOrder } from '@/server/arrivals/order'
import { count, instant, money } from '../format'

/** The customer of an order: what they ordered before and after, and what it came to. */
export function OrderCustomer({
  customer,
  current,
  zone,
}: {
  customer: DescribedOrder['customer']
  current: string
  zone: string
}) {
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
      <table className="ledger" style={{ marginTop: 6 }}>
        <tbody>
          {orders.map(o => (
            <tr key={o.id} aria-current={o.id === current ? 'true' : undefined}>
              <th scope="row" style={{ color: 'inherit' }}>
                {o.id === current ? (
                  o.id
                ) : (
                  <Link
                    href={`/intake/orders/${encodeURIComponent(o.id)}`}
                    style={{ textDecoration: 'underline' }}
                  >
                    {o.id}
                  </Link>
                )}
              </th>
              <td style={{ textAlign: 'left' }} title={`${instant(o.at, zone)} ${zone}`}>
                {instant(o.at, zone).split(',')[0]}
              </td>
              <td style={{ textAlign: 'left' }}>{o.status.replace('_', ' ')}</td>
              <td>
                {money(o.total, o.currency)} {o.currency}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Box>
  )
}
