'use client'
import { Box, Flex, Text } from '@chakra-ui/react'
import Link from 'next/link'
import { useSearchParams } from 'next/navigation'
import { Fragment, useEffect, useState } from 'react'
import { count, instant, money, smallPercent, UNKNOWN } from '../format'
import { useScope } from '../shell/useScope'
import { LinksNav } from './LinksNav'

interface Line {
  network: string
  values: string[]
  clicks: number
  visitors: number
  orders: number
  value: number
}
interface SourceClick {
  id: string
  at: number
  ad: string | null
  /** the order that carries it, its value in minor units of its own currency */
  order: string | null
  value: number | null
  currency: string | null
}
const headings: Record<string, string> = {
  source: 'source ID',
  keyword: 'keyword, match type',
  placement: 'placement',
  device: 'device',
}

/** Sources: where clicks came from, below the ad. */
export function SourcesScreen({
  kind,
  kinds,
  lines,
  currency,
  zone,
  most,
}: {
  kind: string
  kinds: readonly string[]
  lines: readonly Line[]
  currency: string
  zone: string
  most: number
}) {
  const { set, changing } = useScope()
  const [search, setSearch] = useState('')
  const [opened, setOpened] = useState<string | null>(null)
  const wanted = search.trim().toLowerCase()
  const shown = lines.filter(l => `${l.network} ${l.values.join(' ')}`.toLowerCase().includes(wanted))
  const clicks = shown.reduce((sum, l) => sum + l.clicks, 0)
  return (
    <Box px="5" pt="4" pb="8" maxWidth="66rem">
      <LinksNav here="/links/sources" />
      <Text as="h1" fontSize="19px">
        {shown.length === 0
          ? `No click of these days names its ${kind}. The network must pass it on: put its token into the tag plan.`
          : `${count(clicks)} clicks came by ${count(shown.length)} ${shown.length === 1 ? kind : `${kind}s`}${lines.length === most ? ', the most frequent ones' : ''}.`}
      </Text>
      <Flex gap="2" mt="3" fontSize="13px" align="center">
        {kinds.map(k => (
          <button
            key={k}
            type="button"
            className="field press"
            aria-pressed={k === kind}
            style={{ fontWeight: k === kind ? 700 : 400 }}
            onClick={() => set({ by: k === 'source' ? null : k })}
          >
            by {k === 'keyword' ? 'keyword and match type' : k}
          </button>
        ))}
        <input
          className="field"
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
              <th>order value, {currency}</th>
            </tr>
          </thead>
          <tbody>
            {shown.map(line => {
              const key = `${kind} ${line.network} ${line.values.join()}`
              return (
                <Fragment key={key}>
                  <tr>
                    <td style={{ whiteSpace: 'normal', overflowWrap: 'anywhere' }}>
                      <button
                        type="button"
                        className="press"
                        aria-expanded={opened === key}
                        style={{ textDecoration: 'underline', textAlign: 'left' }}
                        onClick={() => setOpened(opened === key ? null : key)}
                      >
                        {line.values.join(' · ')}
                      </button>
                    </td>
                    <td style={{ textAlign: 'left' }}>{line.network}</td>
                    <td>{count(line.clicks)}</td>
                    <td>{count(line.visitors)}</td>
                    <td>{count(line.orders)}</td>
                    <td>{line.clicks === 0 ? UNKNOWN : smallPercent(line.orders / line.clicks)}</td>
                    <td>{money(line.value, currency)}</td>
                  </tr>
                  {opened === key && (
                    <tr>
                      <td colSpan={7} style={{ whiteSpace: 'normal', textAlign: 'left', paddingLeft: 24 }}>
                        <SourceClicks kind={kind} line={line} zone={zone} />
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

/** The clicks behind a line, those with an order first. */
function SourceClicks({ kind, line, zone }: { kind: string; line: Line; zone: string }) {
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
          <Text width="120px" truncate>
            {click.ad ?? ''}
          </Text>
          <Text width="220px" textAlign="right">
            {click.order ? (
              <Link
                href={`/intake/orders/${encodeURIComponent(click.order)}`}
                style={{ textDecoration: 'underline' }}
              >
                {click.order}, {money(click.value, click.currency ?? '')} {click.currency}
              </Link>
            ) : (
              <span title="no order carries it">·</span>
            )}
          </Text>
        </Flex>
      ))}
      {clicks.length < line.clicks && <Text color="quiet">The first {count(clicks.length)} are shown.</Text>}
    </Box>
  )
}
