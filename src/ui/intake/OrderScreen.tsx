'use client'
import { Box, Flex, Text } from '@chakra-ui/react'
import type { DescribedOrder } from '@/server/arrivals/order'
import { GradeMark } from '../evidence/texture'
import { matchedByWords, placedByWords } from '../evidence/words'
import { type Formats, UNKNOWN, useFormats } from '../format'
import { Fold } from '../parts/Fold'
import { Page } from '../parts/Page'
import { DataTable } from '../parts/table/DataTable'
import { useNetworkName } from '../shell/NetworkNames'
import { HandDecisions } from './HandDecisions'
import { OrderCustomer } from './OrderCustomer'

type Touch = DescribedOrder['touches'][number]

/** The network, campaign and ad of a touch or claim, by their names. */
function usePath() {
  const networkName = useNetworkName()
  return ({ network, campaign, ad }: { network: string; campaign: string; ad: string }) =>
    [networkName(network), campaign, ad].filter(Boolean).join(' › ')
}
const hour = ({ weekday, hour }: { weekday: string; hour: number }) =>
  `${weekday}, ${String(hour).padStart(2, '0')} h`

/** Why a touch has the share that it has. */
function roleOf(touch: Touch, touches: readonly Touch[], { percent }: Formats): string {
  if (touch.when === 'after') return 'after the order'
  if (touch.when === 'too_old') return 'before the window'
  const counting = touches.filter(t => t.when === 'counts')
  const places = [touch === counting[0] && 'first', touch === counting.at(-1) && 'last'].filter(Boolean)
  return `${places.length > 0 ? `${places.join(' and ')} touch` : 'touch'}${touch.share > 0 ? `, ${percent(touch.share)} of the credit` : ''}`
}

/** One order whole: how it came about, who claims it, and who placed it. */
export function OrderScreen({
  described: { order, attributes, line, touches, claims, customer, decisions },
  ownCurrency,
}: {
  described: DescribedOrder
  ownCurrency: string
}) {
  const formats = useFormats()
  const { money, instant, zone, day } = formats
  const path = usePath()
  const networkName = useNetworkName()
  const amount = (units: number) => `${money(units, order.currency)} ${order.currency}`
  const claimants = [...new Set(claims.map(c => networkName(c.network)))]
  const carried = (['utm_source', 'utm_medium', 'utm_campaign', 'utm_term', 'utm_content'] as const).flatMap(
    key => (order[key] ? [[key, order[key]] as const] : []),
  )
  return (
    <Page
      at="/intake"
      says={`Order ${order.order_id} over ${amount(order.total)}, ${order.status.replace('_', ' ')}, on ${hour(order)}${line?.credits[0] ? `: ${path(line.credits[0])} brought it.` : ': nothing says which ad brought it.'} ${
        claimants.length === 0
          ? 'No network claims it.'
          : `${claimants.join(' and ')} ${claimants.length === 1 ? 'claims' : 'claim'} it.`
      }`}
    >
      <Flex gap="8" mt="3" align="start">
        <Box flex="1" minWidth="0">
          <Text as="h2" fontWeight="650">
            {line ? (
              <>
                <GradeMark grade={line.grade} />
                {line.by ? `: ${placedByWords[line.by]}` : ''}
              </>
            ) : (
              `It counts as ${order.result}, and Weigh judges orders: it stands in none of its figures.`
            )}
          </Text>
          <Box as="ol" listStyleType="none" mt="2" aria-label="Touches">
            {touches.map(touch => (
              <TouchLine
                key={touch.clickId}
                touch={touch}
                role={roleOf(touch, touches, formats)}
                orderedAt={order.at}
              />
            ))}
            <Box as="li" borderTopWidth="2px" borderColor="shop" py="2">
              <Text fontWeight="650">
                {instant(order.at)} {zone}: the order
              </Text>
              <Text fontSize="13px" color="quiet" wordBreak="break-all">
                {order.landing_url
                  ? `first landed on ${order.landing_url.split('?')[0]}`
                  : 'no landing page known'}
                {order.visitor_id ? ` · visitor ${order.visitor_id}` : ''}
                {order.click_id ? ` · click ${order.click_id}` : ''}
              </Text>
              <Pairs rows={carried} />
            </Box>
          </Box>
          {touches.length === 0 && (
            <Text color="quiet" fontSize="13px" maxWidth="40rem">
              No ad click of this visitor or customer is known. The shop’s own page parameters above are all
              that there is; where they name no campaign, only a network’s word can place it.
            </Text>
          )}

          <Text as="h2" fontWeight="650" mt="5">
            Claims on it
          </Text>
          {claims.length === 0 ? (
            <Text color="quiet" fontSize="13px">
              None: the networks did not hear of it, or may not say so.
            </Text>
          ) : (
            <DataTable
              label="Claims on it"
              columns={[
                { id: 'path', heading: 'network, campaign, ad', words: true, wraps: true, value: path },
                { id: 'when', words: true, value: c => (c.at === null ? day(c.day) : instant(c.at)) },
                { id: 'kind', words: true, value: c => `after a ${c.kind}` },
                {
                  id: 'by',
                  heading: 'told by',
                  words: true,
                  value: c => (c.by ? matchedByWords[c.by] : UNKNOWN),
                },
                {
                  id: 'value',
                  heading: `value, ${ownCurrency}`,
                  as: 'amount',
                  currency: () => ownCurrency,
                  value: c => c.value,
                },
              ]}
              rows={claims}
              rowId={c => String(claims.indexOf(c))}
            />
          )}
        </Box>
        <Box as="aside" width="330px" flexShrink={0} fontSize="13px">
          <Text as="h2" fontWeight="650">
            Booked by the shop
          </Text>
          <Pairs
            rows={[
              ['total', amount(order.total)],
              ['tax', amount(order.tax)],
              ['shipping', amount(order.shipping)],
              ['refunded', amount(order.refunded)],
              ['result', order.result],
              ...Object.entries(attributes),
            ]}
          />
          <HandDecisions order={order.order_id} customer={customer?.id ?? null} decisions={decisions} />
          <OrderCustomer customer={customer} current={order.order_id} />
        </Box>
      </Flex>
    </Page>
  )
}

function TouchLine({ touch, role, orderedAt }: { touch: Touch; role: string; orderedAt: number }) {
  const { instant, between, count, zone } = useFormats()
  const path = usePath()
  const idle = touch.when !== 'counts'
  return (
    <Box as="li" borderTopWidth="1px" borderColor="hairline" py="2" color={idle ? 'quiet' : undefined}>
      <Flex gap="3" justify="space-between" align="baseline">
        <Text fontWeight={touch.share > 0 ? 650 : 400}>{path(touch)}</Text>
        <Text fontSize="13px" flexShrink={0} title={`${instant(touch.at)} ${zone}`}>
          {between(Math.abs(orderedAt - touch.at))} {touch.at > orderedAt ? 'after' : 'before'} ·{' '}
          {hour(touch)}
        </Text>
      </Flex>
      <Text fontSize="13px" color="quiet">
        {role} · {placedByWords[touch.by]}
        {[touch.device, touch.placement, touch.keyword, touch.country]
          .filter(Boolean)
          .map(fact => ` · ${fact}`)}
        {touch.counted ? '' : ' · not counted as a click'}
      </Text>
      <Fold
        fontSize="12px"
        color="quiet"
        mt="0"
        title={`${touch.landing ? touch.landing.replace(/^https?:\/\//, '').split('?')[0] : 'landing page not known'}, ${count(touch.parameters.length)} ${touch.parameters.length === 1 ? 'parameter' : 'parameters'}`}
      >
        <Pairs rows={[['click', touch.clickId], ...touch.parameters]} />
      </Fold>
    </Box>
  )
}

function Pairs({ rows }: { rows: readonly (readonly [string, string])[] }) {
  return (
    <>
      {rows.map(([name, value]) => (
        <Flex key={name} gap="3" py="0.5" fontSize="12px">
          <Text width="110px" flexShrink={0} color="quiet">
            {name}
          </Text>
          <Text fontFamily="mono" wordBreak="break-all">
            {value}
          </Text>
        </Flex>
      ))}
    </>
  )
}
