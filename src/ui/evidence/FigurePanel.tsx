'use client'
import { Box, CloseButton, Flex, Heading, Spinner, Text } from '@chakra-ui/react'
import { useSearchParams } from 'next/navigation'
import { useEffect, useRef, useState } from 'react'
import { causes, type GapCause } from '@/core/evidence/causes'
import { type Figure, openingOf } from '@/core/weigh/openings'
import type { FigureView } from '@/server/compute/views/figure'
import { count, money, ratioText, tenths, UNKNOWN } from '../format'
import { useNetworkName } from '../shell/NetworkNames'
import { useResultWords } from '../shell/ResultWords'
import { ClaimList, DayList, OrderList } from './lists'
import type { Opened } from './PanelContext'

/** What stands behind a figure, the latest records first; `more` fetches those before them. */
function useFigure(opened: Opened) {
  const address = useSearchParams()
  const [view, setView] = useState<FigureView | null>(null)
  const [problem, setProblem] = useState<string | null>(null)
  const [skip, setSkip] = useState(0)
  useEffect(() => {
    const asked = new AbortController()
    const query = new URLSearchParams({ figure: opened.figure, ...opened.scope, skip: String(skip) })
    for (const key of ['from', 'to']) {
      const bound = opened.day ?? address.get(key)
      if (bound) query.set(key, bound)
    }
    const result = address.get('result')
    if (result) query.set('result', result)
    fetch(`/api/figure?${query}`, { signal: asked.signal })
      .then(async response => {
        if (!response.ok) return setProblem((await response.json()).error)
        const found: FigureView = await response.json()
        setView(before =>
          before && skip > 0
            ? {
                ...found,
                orders: [...before.orders, ...found.orders],
                claims: [...before.claims, ...found.claims],
              }
            : found,
        )
      })
      .catch(
        error => asked.signal.aborted || setProblem(`The evidence could not be fetched: ${error.message}`),
      )
    return () => asked.abort()
  }, [opened, address, skip])
  const more = () => view && setSkip(Math.max(view.orders.length, view.claims.length))
  return { view, problem, more }
}

/** The orders, claims and days behind one figure, and how it comes about. */
export function FigurePanel({ opened, zone, close }: { opened: Opened; zone: string; close: () => void }) {
  const { view, problem, more } = useFigure(opened)
  const words = useResultWords()
  const closeButton = useRef<HTMLButtonElement>(null)
  useEffect(() => {
    const before = document.activeElement
    closeButton.current?.focus()
    return () => {
      if (before instanceof HTMLElement) before.focus()
    }
  }, [])
  const cause = Object.hasOwn(causes, opened.figure) ? causes[opened.figure as GapCause] : null
  return (
    <Box
      as="aside"
      aria-label="Evidence"
      width="min(400px, 82vw)"
      flexShrink={0}
      position={{ base: 'absolute', lg: 'static' }}
      zIndex={{ base: 6, lg: 'auto' }}
      insetY="0"
      right="0"
      borderLeftWidth="1px"
      borderColor="hairline"
      bg="sheet"
      overflowY="auto"
      p="4"
      fontSize="13px"
    >
      <Flex justify="space-between" align="start" gap="3">
        <Box minWidth="0">
          <Text color="quiet" overflowWrap="anywhere">
            {opened.of}
          </Text>
          <Heading as="h2" fontSize="17px" fontWeight="650" lineHeight="1.25">
            {words(openingOf(opened.figure).label)}
            {opened.worth ? ', worth' : ''}: {opened.shown}
            {view && isMoney(opened) && !opened.shown.includes(view.currency) && opened.shown !== UNKNOWN
              ? ` ${view.currency}`
              : ''}
          </Heading>
        </Box>
        <CloseButton ref={closeButton} size="xs" aria-label="Close the evidence (Esc)" onClick={close} />
      </Flex>
      {cause && (
        <Text mt="2">
          {words(cause.means)}{' '}
          <Text as="span" color="quiet">
            {words(cause.todo)}
          </Text>
        </Text>
      )}
      {problem && (
        <Text mt="3" color="alarm" role="alert">
          {problem}
        </Text>
      )}
      {!view && !problem && <Spinner mt="4" size="sm" role="status" aria-label="Fetching the evidence" />}
      {view && (
        <>
          <WorkedOut view={view} opened={opened} />
          <DayList view={view} folded={view.orderCount + view.claimCount > 0} />
          <OrderList view={view} zone={zone} more={more} />
          <ClaimList view={view} zone={zone} more={more} />
          {view.orderCount + view.claimCount + view.days.length === 0 && (
            <Text mt="3">There are none in this period.</Text>
          )}
        </>
      )}
    </Box>
  )
}

const isMoney = ({ figure, worth }: Opened) => worth === true || openingOf(figure).unit === 'money'

/** A figure in its unit. */
function amountText(figure: Figure, amount: number | null, currency: string, worth = false): string {
  if (amount === null) return UNKNOWN
  const { unit } = openingOf(figure)
  if (worth || unit === 'money') return `${money(amount, currency)} ${currency}`
  if (unit === 'ratio') return ratioText(amount)
  const said = figure === 'estimated' || amount % 1 !== 0 ? tenths(amount) : count(amount)
  return figure === 'estimated' ? `${said} estimated orders` : `${said} ${unit}`
}

/** How the figure comes about, in a sentence. */
function WorkedOut({ view, opened }: { view: FigureView; opened: Opened }) {
  const networkName = useNetworkName()
  const words = useResultWords()
  const { figure, currency, parts, orderCount, orderParts, orderAdded } = view
  const network = networkName(opened.scope.network ?? '')
  const said = (part: NonNullable<typeof parts>['over']) =>
    amountText(part.figure, part.amount, currency, part.worth)
  const sentences = [
    parts &&
      `${said(parts.over)}${parts.over.figure === 'spend' ? ' of spend' : ''} over ${said(parts.under)}.`,
    (figure === 'estimated' || figure === 'cost' || figure === 'roas') &&
      orderCount > 0 &&
      `${tenths(orderParts)} orders were seen by our tracking or by the network, and ${tenths(orderAdded)} are added for those that neither saw: what one witness misses is told by what the other saw (capture–recapture). The range holds the truth four times in five.`,
    figure === 'network_capture' &&
      `Over all days ${network} claims ${count(orderParts)} of the ${count(orderCount)} orders that our tracking ties to it.`,
    figure === 'own_capture' &&
      `Over all days ${tenths(orderParts)} orders are ${network}’s by its own claims; our tracking ties ${tenths((view.amount ?? 0) * orderParts)} of them to an ad.`,
  ].filter(Boolean)
  return sentences.length > 0 ? <Text mt="3">{words(sentences.join(' '))}</Text> : null
}
