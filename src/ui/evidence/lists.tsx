'use client'
import { Box, Button, Flex, Grid, Heading, Text } from '@chakra-ui/react'
import Link from 'next/link'
import type { ReactNode } from 'react'
import type { FigureView } from '@/server/compute/views/figure'
import { useFormats } from '../format'
import { DataTable } from '../parts/table/DataTable'
import { leftOutWords } from '../results/resultWords'
import { useNetworkName } from '../shell/NetworkNames'
import { useResultWords } from '../shell/ResultWords'
import { GradeMark } from './texture'
import { fateWords, matchedByWords, placedByWords } from './words'

function List({
  title,
  left,
  more,
  children,
}: {
  title: ReactNode
  /** how many more there are */
  left: number
  more: () => void
  children: ReactNode
}) {
  const { count } = useFormats()
  return (
    <Box mt="4">
      <Heading as="h3" fontSize="13px" fontWeight="650" lineHeight="1.5">
        {title}
      </Heading>
      {children}
      {left > 0 && (
        <Button size="xs" mt="2" onClick={more}>
          Show more: {count(left)} before these
        </Button>
      )}
    </Box>
  )
}

const Line = ({ children }: { children: ReactNode }) => (
  <Box borderTopWidth="1px" borderColor="hairline" py="1.5">
    {children}
  </Box>
)

/** Why what a claim names does not count, in brackets; nothing where it does. */
const standingOf = ({ status, left }: NonNullable<FigureView['claims'][number]['order']>): string =>
  left !== null && left !== 'does_not_count'
    ? ` (${leftOutWords[left]})`
    : status === 'paid'
      ? ''
      : ` (${status.replace('_', ' ')})`

/** The orders behind a figure, the latest first, each with its part in it where that is not the whole. */
export function OrderList({ view, more }: { view: FigureView; more: () => void }) {
  const { tenths, count, money, instant, percent } = useFormats()
  const networkName = useNetworkName()
  const words = useResultWords()
  const { currency, orders, orderCount, orderParts, orderAdded, worth, figure } = view
  if (orderCount === 0) return null
  const whole = orderParts + orderAdded
  const inFigure =
    Math.abs(whole - orderCount) < 0.05
      ? ''
      : whole > orderCount
        ? ` stand for ${tenths(whole)}`
        : `, ${tenths(whole)} of them in the figure`
  return (
    <List
      title={`${count(orderCount)} ${words(orderCount === 1 ? 'order' : 'orders')}${inFigure}, ${figure === 'value_differs' ? 'by' : 'worth'} ${money(worth)} ${currency}`}
      left={orderCount - orders.length}
      more={more}
    >
      {orders.map(order => (
        <Line key={order.id}>
          <Grid templateColumns="1fr 5.5rem 6rem" gap="2">
            {order.told ? (
              <Text
                fontFamily="mono"
                fontSize="12px"
                overflowWrap="anywhere"
                title="told by a rule of the tag"
              >
                {order.id}
              </Text>
            ) : (
              <Box
                asChild
                fontFamily="mono"
                fontSize="12px"
                textDecoration="underline"
                overflowWrap="anywhere"
              >
                <Link href={`/intake/orders/${encodeURIComponent(order.id)}`}>{order.id}</Link>
              </Box>
            )}
            <GradeMark grade={order.grade} />
            <Text textAlign="right">{money(order.value)}</Text>
          </Grid>
          <Text color="quiet" fontSize="12px">
            {[
              instant(order.at),
              order.part < 0.9995 && `${percent(order.part)} of it`,
              order.added >= 0.05 && `+ ${tenths(order.added)} like it`,
              order.by && words(placedByWords[order.by]),
              ...order.credits.map(
                c =>
                  `${networkName(c.network)} › ${c.campaign || 'campaign unknown'} › ${c.ad || 'ad unknown'}${c.share < 1 ? ` (${percent(c.share)})` : ''}`,
              ),
              order.fate && fateWords(order.fate),
            ]
              .filter(Boolean)
              .join(' · ')}
          </Text>
        </Line>
      ))}
    </List>
  )
}

/** The claims behind a figure, the latest first. */
export function ClaimList({ view, more }: { view: FigureView; more: () => void }) {
  const { count, money, instant, day } = useFormats()
  const networkName = useNetworkName()
  const words = useResultWords()
  const { currency, claims, claimCount, claimValue } = view
  if (claimCount === 0) return null
  return (
    <List
      title={`${count(claimCount)} ${claimCount === 1 ? 'claim' : 'claims'}, worth ${money(claimValue)} ${currency}`}
      left={claimCount - claims.length}
      more={more}
    >
      {claims.map((claim, i) => (
        <Line key={i}>
          <Flex justify="space-between" gap="2">
            <Text overflowWrap="anywhere">
              {networkName(claim.network)} › {claim.ad}
            </Text>
            <Text>{money(claim.value)}</Text>
          </Flex>
          <Text color="quiet" fontSize="12px">
            {[
              claim.at === null ? day(claim.day) : instant(claim.at),
              `by ${claim.kind}`,
              claim.order
                ? `${words('order')} ${claim.order.id}${claim.matchedBy ? `, ${matchedByWords[claim.matchedBy]}` : ''}${standingOf(claim.order)}`
                : claim.transaction && `names order ${claim.transaction}`,
              claim.fate && fateWords(claim.fate),
            ]
              .filter(Boolean)
              .join(' · ')}
          </Text>
        </Line>
      ))}
    </List>
  )
}

/**
 * The days of delivery behind a figure, the latest first, with the clicks that arrived beside those billed.
 *
 * @param folded whether the days are shown only when they are asked for
 */
export function DayList({ view: { days, currency }, folded }: { view: FigureView; folded: boolean }) {
  const { money, count } = useFormats()
  if (days.length === 0) return null
  const sum = (pick: 'spend' | 'impressions' | 'clicks' | 'seen') =>
    days.reduce((all, day) => all + day[pick], 0)
  const [billed, seen] = [sum('clicks'), sum('seen')]
  return (
    <Box mt="4">
      <Text>
        Delivery reports say {money(sum('spend'))} {currency} for {count(sum('impressions'))} impressions and{' '}
        {count(billed)} clicks. {count(seen)} ad clicks arrived at the tracking domain or came in files
        {seen > billed
          ? ': more than are billed, since a shopper who comes back by the same address is not billed again, or a report is missing.'
          : '.'}
      </Text>
      <details open={!folded}>
        <summary>Day by day</summary>
        <DataTable
          label="Delivery by day"
          columns={[
            { id: 'day', words: true, as: 'day', value: d => d.day },
            { id: 'spend', value: d => d.spend, as: 'amount' },
            { id: 'impressions', value: d => d.impressions },
            { id: 'billed', value: d => d.clicks },
            { id: 'arrived', value: d => d.seen },
          ]}
          rows={days}
          rowId={d => d.day}
          tools={false}
        />
      </details>
    </Box>
  )
}
