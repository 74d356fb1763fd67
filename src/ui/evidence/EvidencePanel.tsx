'use client'
import { Box, Flex, Spinner, Text } from '@chakra-ui/react'
import { X } from 'lucide-react'
import Link from 'next/link'
import { useSearchParams } from 'next/navigation'
import { type ReactNode, useEffect, useRef, useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import type { FigureView } from '@/server/compute/views'
import { count, instant, money, tenths } from '../format'
import { useNetworkName } from '../shell/NetworkNames'
import { type Opened, usePanel } from './PanelContext'
import { GradeMark } from './texture'
import { causeWords, fateWords, figureWords, matchedByWords, placedByWords } from './words'

/** The orders, claims and clicks behind a figure: the same panel everywhere, in the same place. */
export function EvidencePanel({ zone }: { zone: string }) {
  const { opened, open } = usePanel()
  useHotkeys('escape', () => open(null), { enabled: opened !== null })
  return opened ? (
    <Panel key={JSON.stringify(opened)} opened={opened} zone={zone} close={() => open(null)} />
  ) : null
}

function Panel({ opened, zone, close }: { opened: Opened; zone: string; close: () => void }) {
  const address = useSearchParams()
  const [view, setView] = useState<FigureView | null>(null)
  const [problem, setProblem] = useState<string | null>(null)
  const closeButton = useRef<HTMLButtonElement>(null)
  useEffect(() => {
    const before = document.activeElement
    closeButton.current?.focus()
    return () => {
      if (before instanceof HTMLElement) before.focus()
    }
  }, [])
  useEffect(() => {
    const asked = new AbortController()
    const query = new URLSearchParams({ figure: opened.figure, ...opened.scope })
    for (const key of ['from', 'to']) {
      const bound = opened.day ?? address.get(key)
      if (bound) query.set(key, bound)
    }
    fetch(`/api/figure?${query}`, { signal: asked.signal })
      .then(async response =>
        response.ok ? setView(await response.json()) : setProblem((await response.json()).error),
      )
      .catch(
        error => asked.signal.aborted || setProblem(`The evidence could not be fetched: ${error.message}`),
      )
    return () => asked.abort()
  }, [opened, address])

  const words = opened.figure in causeWords ? causeWords[opened.figure as keyof typeof causeWords] : null
  return (
    <Box
      as="aside"
      aria-label="Evidence"
      width="400px"
      flexShrink={0}
      borderLeftWidth="1px"
      borderColor="hairline"
      bg="sheet"
      overflowY="auto"
      p="4"
      fontSize="13px"
    >
      <Flex justify="space-between" align="start" gap="3">
        <Box>
          <Text color="quiet">{opened.of}</Text>
          <Text as="h2" fontSize="17px" fontWeight="650" lineHeight="1.25">
            {figureWords[opened.figure]}: {opened.shown}
          </Text>
        </Box>
        <button
          ref={closeButton}
          type="button"
          aria-label="Close the evidence (Esc)"
          onClick={close}
          style={{ cursor: 'pointer', padding: 4 }}
        >
          <X size={18} />
        </button>
      </Flex>
      {words && (
        <Text mt="2">
          {words.means}{' '}
          <Text as="span" color="quiet">
            {words.todo}
          </Text>
        </Text>
      )}
      {problem && (
        <Text mt="3" color="alarm">
          {problem}
        </Text>
      )}
      {!view && !problem && <Spinner mt="4" size="sm" role="status" aria-label="Fetching the evidence" />}
      {view && <Found view={view} zone={zone} />}
    </Box>
  )
}

const Line = ({ children }: { children: ReactNode }) => (
  <Box borderTopWidth="1px" borderColor="hairline" py="1.5">
    {children}
  </Box>
)

function Found({ view, zone }: { view: FigureView; zone: string }) {
  const { currency } = view
  const networkName = useNetworkName()
  return (
    <>
      {view.figure === 'estimated' && (
        <Text mt="3">
          {tenths(view.seen)} orders were seen by our tracking or by the network, and {tenths(view.unseen)}{' '}
          are added for those that neither saw: what one witness misses is told by what the other saw
          (capture–recapture). The range holds the truth four times in five.
        </Text>
      )}
      {(view.figure === 'spend' || view.figure === 'clicks') && (
        <Text mt="3">
          The network’s delivery reports say {money(view.delivery.spend, currency)} {currency} for{' '}
          {count(view.delivery.impressions)} impressions and {count(view.delivery.clicks)} clicks. Our
          collector and click files hold {count(view.delivery.seenClicks)} of those clicks.
        </Text>
      )}
      {view.orderCount > 0 && (
        <Box mt="4">
          <Text fontWeight="650">
            {count(view.orderCount)} orders, {money(view.orderValue, currency)} {currency}
            {view.orderCount > view.orders.length ? `; the latest ${view.orders.length}` : ''}
          </Text>
          {view.orders.map(order => (
            <Line key={order.id}>
              <Flex justify="space-between" gap="2">
                <Box asChild fontFamily="mono" fontSize="12px" textDecoration="underline">
                  <Link href={`/intake/orders/${encodeURIComponent(order.id)}`}>{order.id}</Link>
                </Box>
                <GradeMark grade={order.grade} />
                <Text>{money(order.value, currency)}</Text>
              </Flex>
              <Text color="quiet" fontSize="12px">
                {instant(order.at, zone)}
                {order.by ? ` · ${placedByWords[order.by]}` : ''}
                {order.credits.map(
                  c =>
                    ` · ${networkName(c.network)} › ${c.campaign || 'campaign unknown'} › ${c.ad || 'ad unknown'}${c.share < 1 ? ` (${Math.round(c.share * 100)} %)` : ''}`,
                )}
                {order.fate ? ` · ${fateWords[order.fate]}` : ''}
              </Text>
            </Line>
          ))}
        </Box>
      )}
      {view.claimCount > 0 && (
        <Box mt="4">
          <Text fontWeight="650">
            {count(view.claimCount)} claims, {money(view.claimValue, currency)} {currency}
            {view.claimCount > view.claims.length ? `; the latest ${view.claims.length}` : ''}
          </Text>
          {view.claims.map((claim, i) => (
            <Line key={i}>
              <Flex justify="space-between" gap="2">
                <Text>
                  {networkName(claim.network)} › {claim.ad}
                </Text>
                <Text>{money(claim.value, currency)}</Text>
              </Flex>
              <Text color="quiet" fontSize="12px">
                {claim.at === null ? claim.day : instant(claim.at, zone)} · by {claim.kind}
                {claim.order
                  ? ` · order ${claim.order.id}, ${claim.matchedBy ? matchedByWords[claim.matchedBy] : ''}`
                  : claim.transaction
                    ? ` · names order ${claim.transaction}`
                    : ''}
                {claim.order && claim.order.status !== 'paid'
                  ? ` (${claim.order.status.replace('_', ' ')})`
                  : ''}
                {claim.fate ? ` · ${fateWords[claim.fate]}` : ''}
              </Text>
            </Line>
          ))}
        </Box>
      )}
      {view.orderCount + view.claimCount === 0 && view.figure !== 'spend' && view.figure !== 'clicks' && (
        <Text mt="3">There are none in this period.</Text>
      )}
    </>
  )
}
