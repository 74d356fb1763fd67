'use client'
import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { useSearchParams } from 'next/navigation'
import { type SourceKind, type SourceLine, sourceKinds } from '@/core/links/sources'
import type { SourceClick } from '@/server/links/sources'
import { type Formats, useFormats } from '../format'
import { Note, Page } from '../parts/Page'
import type { Column } from '../parts/table/columns'
import { DataTable } from '../parts/table/DataTable'
import { useServer } from '../parts/useServer'
import { WordLink } from '../parts/WordLink'
import { useNetworkName } from '../shell/NetworkNames'
import { useScope } from '../shell/useScope'

const headings: Record<SourceKind, string> = {
  source: 'source ID',
  keyword: 'keyword, match type',
  placement: 'placement',
  device: 'device',
}

/** Orders are whole unless a credit rule shares them out. */
const wholeOrTenths = (orders: number, { count, tenths }: Formats) =>
  (Number.isInteger(orders) ? count : tenths)(orders)
const ordersText = (orders: number, formats: Formats) =>
  `${wholeOrTenths(orders, formats)} ${orders === 1 ? 'order' : 'orders'}`

/** Sources: where clicks came from, below the ad. */
export function SourcesScreen({
  kind,
  lines,
  all,
}: {
  kind: SourceKind
  lines: readonly SourceLine[]
  /** how many lines there are; the most frequent ones are given */
  all: number
}) {
  const formats = useFormats()
  const { count, currency } = formats
  const networkName = useNetworkName()
  const { set, changing } = useScope()
  const clicks = lines.reduce((sum, l) => sum + l.clicks, 0)
  const orders = lines.reduce((sum, l) => sum + l.orders, 0)
  const columns: Column<SourceLine>[] = [
    { id: 'values', heading: headings[kind], words: true, wraps: true, value: l => l.values.join(' · ') },
    { id: 'network', words: true, pick: true, value: l => networkName(l.network) },
    { id: 'clicks', value: l => l.clicks },
    { id: 'visitors', value: l => l.visitors },
    {
      id: 'orders',
      heading: 'proven orders',
      value: l => l.orders,
      cell: l => wholeOrTenths(l.orders, formats),
    },
    {
      id: 'rate',
      heading: 'orders a click',
      value: l => (l.clicks === 0 ? null : l.orders / l.clicks),
      as: 'share',
    },
    { id: 'value', heading: `their value, ${currency}`, value: l => l.value, as: 'amount' },
  ]
  return (
    <Page
      at="/links/sources"
      says={
        lines.length === 0
          ? `No click of these days names its ${kind}. The network must pass it on: put its token into the tag plan.`
          : `${count(clicks)} clicks came by ${count(lines.length)} ${lines.length === 1 ? kind : `${kind}s`}${lines.length < all ? ', the most frequent ones' : ''}. They brought ${ordersText(orders, formats)} that ${orders === 1 ? 'is' : 'are'} proven.`
      }
      actions={
        <>
          {sourceKinds.map(k => (
            <Button
              key={k}
              aria-pressed={k === kind}
              fontWeight={k === kind ? '700' : '400'}
              onClick={() => set({ by: k === 'source' ? null : k })}
            >
              by {k === 'keyword' ? 'keyword and match type' : k}
            </Button>
          ))}
          <Text color="quiet" role="status">
            {changing ? 'Counting …' : ''}
          </Text>
        </>
      }
    >
      {lines.length > 0 && (
        <DataTable
          label={`Clicks and orders by ${kind}`}
          name="sources"
          columns={columns}
          rows={lines}
          rowId={l => `${kind} ${l.network} ${l.values.join()}`}
          detail={l => <SourceClicks kind={kind} line={l} />}
          main
        />
      )}
    </Page>
  )
}

/** The clicks behind a line, those that brought an order first. */
function SourceClicks({ kind, line }: { kind: SourceKind; line: SourceLine }) {
  const { instant, count, currency, money, smallPercent } = useFormats()
  const address = useSearchParams().toString()
  const query = new URLSearchParams(address)
  query.set('by', kind)
  query.set('of', line.network)
  for (const value of line.values) if (value) query.append('value', value)
  const { answer: clicks, problem } = useServer<SourceClick[]>(`/api/links/sources?${query}`)
  if (!clicks)
    return problem ? (
      <Note alarm>The clicks could not be fetched: {problem}.</Note>
    ) : (
      <Note>Fetching the clicks …</Note>
    )
  return (
    <Box fontSize="12px">
      {clicks.map(click => (
        <Flex key={click.id} gap="3" borderTopWidth="1px" borderColor="hairline" py="0.5">
          <Text width="130px" color="quiet">
            {instant(click.at)}
          </Text>
          <Text fontFamily="mono" flex="1" truncate title={click.id}>
            {click.id}
          </Text>
          <Text width="200px" truncate title={click.ad ?? ''}>
            {click.ad ?? ''}
          </Text>
          <Text width="110px" color="quiet">
            {click.earlier ? 'before these days' : ''}
          </Text>
          <Text width="220px" textAlign="right">
            {click.order ? (
              <WordLink href={`/intake/orders/${encodeURIComponent(click.order.id)}`}>
                {click.order.share < 1 ? `${smallPercent(click.order.share)} of ` : ''}
                {click.order.id}, {money(click.order.value)} {currency}
              </WordLink>
            ) : (
              <span title="no order is proven to have come of it">·</span>
            )}
          </Text>
        </Flex>
      ))}
      {clicks.length < line.clicks && <Text color="quiet">The first {count(clicks.length)} are shown.</Text>}
    </Box>
  )
}
