'use client'
import { Box, Button, Flex, Input, Text } from '@chakra-ui/react'
import Link from 'next/link'
import { useSearchParams } from 'next/navigation'
import { Fragment, useEffect, useState } from 'react'
import { type SourceKind, type SourceLine, sourceKinds } from '@/core/links/sources'
import type { SourceClick } from '@/server/links/sources'
import { count, instant, money, smallPercent, tenths, UNKNOWN } from '../format'
import { PartNav } from '../parts/PartNav'
import { useNetworkName } from '../shell/NetworkNames'
import { useScope } from '../shell/useScope'

const headings: Record<SourceKind, string> = {
  source: 'source ID',
  keyword: 'keyword, match type',
  placement: 'placement',
  device: 'device',
}

/** Orders are whole unless a credit rule shares them out. */
const wholeOrTenths = (orders: number) => (Number.isInteger(orders) ? count : tenths)(orders)
const ordersText = (orders: number) => `${wholeOrTenths(orders)} ${orders === 1 ? 'order' : 'orders'}`

/** Sources: where clicks came from, below the ad. */
export function SourcesScreen({
  kind,
  lines,
  all,
  currency,
  zone,
}: {
  kind: SourceKind
  lines: readonly SourceLine[]
  /** how many lines there are; the most frequent ones are given */
  all: number
  currency: string
  zone: string
}) {
  const networkName = useNetworkName()
  const { set, changing } = useScope()
  const [search, setSearch] = useState('')
  const [opened, setOpened] = useState<string | null>(null)
  const wanted = search.trim().toLowerCase()
  const shown = lines.filter(l =>
    `${networkName(l.network)} ${l.values.join(' ')}`.toLowerCase().includes(wanted),
  )
  const clicks = shown.reduce((sum, l) => sum + l.clicks, 0)
  const orders = shown.reduce((sum, l) => sum + l.orders, 0)
  return (
    <Box px="5" pt="4" pb="8" maxWidth="66rem">
      <PartNav here="/links/sources" />
      <Text as="h1" fontSize="19px">
        {shown.length === 0
          ? `No click of these days names its ${kind}. The network must pass it on: put its token into the tag plan.`
          : `${count(clicks)} clicks came by ${count(shown.length)} ${shown.length === 1 ? kind : `${kind}s`}${lines.length < all ? ', the most frequent ones' : ''}. They brought ${ordersText(orders)} that ${orders === 1 ? 'is' : 'are'} proven.`}
      </Text>
      <Flex gap="2" mt="3" fontSize="13px" align="center">
        {sourceKinds.map(k => (
          <Button
            key={k}
            aria-pressed={k === kind}
            style={{ fontWeight: k === kind ? 700 : 400 }}
            onClick={() => set({ by: k === 'source' ? null : k })}
          >
            by {k === 'keyword' ? 'keyword and match type' : k}
          </Button>
        ))}
        <Input
          width="auto"
          aria-label={`Filter by ${kind}`}
          placeholder="Filter"
          value={search}
          onChange={e => setSearch(e.target.value)}
        />
        <Text color="quiet" role="status">
          {changing ? 'Counting …' : ''}
        </Text>
      </Flex>
      {shown.length > 0 && (
        <Box as="table" className="ledger" mt="3">
          <thead>
            <tr>
              <th>{headings[kind]}</th>
              <th style={{ textAlign: 'left' }}>network</th>
              <th>clicks</th>
              <th>visitors</th>
              <th>proven orders</th>
              <th>orders a click</th>
              <th>their value, {currency}</th>
            </tr>
          </thead>
          <tbody>
            {shown.map(line => {
              const key = `${kind} ${line.network} ${line.values.join()}`
              return (
                <Fragment key={key}>
                  <tr>
                    <td style={{ whiteSpace: 'normal', overflowWrap: 'anywhere' }}>
                      <Button
                        variant="plain"
                        aria-expanded={opened === key}
                        style={{ textAlign: 'left' }}
                        onClick={() => setOpened(opened === key ? null : key)}
                      >
                        {line.values.join(' · ')}
                      </Button>
                    </td>
                    <td style={{ textAlign: 'left' }}>{networkName(line.network)}</td>
                    <td>{count(line.clicks)}</td>
                    <td>{count(line.visitors)}</td>
                    <td>{wholeOrTenths(line.orders)}</td>
                    <td>{line.clicks === 0 ? UNKNOWN : smallPercent(line.orders / line.clicks)}</td>
                    <td>{money(line.value, currency)}</td>
                  </tr>
                  {opened === key && (
                    <tr>
                      <td colSpan={7} style={{ whiteSpace: 'normal', textAlign: 'left', paddingLeft: 24 }}>
                        <SourceClicks kind={kind} line={line} currency={currency} zone={zone} />
                      </td>
                    </tr>
                  )}
                </Fragment>
              )
            })}
          </tbody>
        </Box>
      )}
    </Box>
  )
}

/** The clicks behind a line, those that brought an order first. */
function SourceClicks({
  kind,
  line,
  currency,
  zone,
}: {
  kind: SourceKind
  line: SourceLine
  currency: string
  zone: string
}) {
  const address = useSearchParams().toString()
  const [clicks, setClicks] = useState<SourceClick[] | string | null>(null)
  const [first, second] = line.values
  useEffect(() => {
    const query = new URLSearchParams(address)
    query.set('by', kind)
    query.set('of', line.network)
    for (const value of [first, second]) if (value) query.append('value', value)
    const asked = new AbortController()
    fetch(`/api/links/sources?${query}`, { signal: asked.signal })
      .then(async response => {
        if (!response.ok) throw new Error(`the server answered ${response.status}`)
        setClicks(await response.json())
      })
      .catch(error => asked.signal.aborted || setClicks(`The clicks could not be fetched: ${error.message}.`))
    return () => asked.abort()
  }, [address, kind, line.network, first, second])
  if (!Array.isArray(clicks))
    return <Text color={clicks ? 'alarm' : 'quiet'}>{clicks ?? 'Fetching the clicks …'}</Text>
  return (
    <Box fontSize="12px">
      {clicks.map(click => (
        <Flex key={click.id} gap="3" borderTopWidth="1px" borderColor="hairline" py="0.5">
          <Text width="130px" color="quiet">
            {instant(click.at, zone)}
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
              <Link
                href={`/intake/orders/${encodeURIComponent(click.order.id)}`}
                style={{ textDecoration: 'underline' }}
              >
                {click.order.share < 1 ? `${smallPercent(click.order.share)} of ` : ''}
                {click.order.id}, {money(click.order.value, currency)} {currency}
              </Link>
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
