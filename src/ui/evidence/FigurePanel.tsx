'use client'
import { Spinner, Text } from '@chakra-ui/react'
import { useSearchParams } from 'next/navigation'
import { causes, type GapCause } from '@/core/evidence/causes'
import { FIGURE_ROWS, type Figure, openingOf } from '@/core/weigh/openings'
import type { FigureView } from '@/server/compute/views/figure'
import { type Formats, UNKNOWN, useFormats } from '../format'
import { Note } from '../parts/Page'
import { SidePanel } from '../parts/SidePanel'
import { useServerPages } from '../parts/useServerPages'
import { useNetworkName } from '../shell/NetworkNames'
import { useResultWords } from '../shell/ResultWords'
import { ClaimList, DayList, OrderList } from './lists'
import type { Opened } from './PanelContext'

/** What stands behind a figure, the latest records first; `more` fetches those before them. */
function useFigure(opened: Opened) {
  const address = useSearchParams()
  const query = new URLSearchParams({ figure: opened.figure, ...opened.scope })
  for (const key of ['from', 'to', 'result', 'spend']) {
    const bound = ((key === 'from' || key === 'to') && opened.day) || address.get(key)
    if (bound) query.set(key, bound)
  }
  if (opened.billed) query.set('days', 'billed')
  const { pages, problem, more } = useServerPages<FigureView>(
    page => `/api/figure?${query}&skip=${page * FIGURE_ROWS}`,
  )
  const [first] = pages
  const view = first && {
    ...first,
    orders: pages.flatMap(page => page.orders),
    claims: pages.flatMap(page => page.claims),
  }
  return { view, problem, more }
}

/** The orders, claims and days behind one figure, and how it comes about. */
export function FigurePanel({ opened, close }: { opened: Opened; close: () => void }) {
  const { view, problem, more } = useFigure(opened)
  const words = useResultWords()
  const cause = Object.hasOwn(causes, opened.figure) ? causes[opened.figure as GapCause] : null
  const unit =
    view && isMoney(opened) && !opened.shown.includes(view.currency) && opened.shown !== UNKNOWN
      ? ` ${view.currency}`
      : ''
  return (
    <SidePanel
      evidence
      label="Evidence"
      above={opened.of}
      title={`${words(openingOf(opened.figure).label)}${opened.worth ? ', worth' : ''}: ${opened.shown}${unit}`}
      width={400}
      close={close}
    >
      {cause && (
        <Text mt="2">
          {words(cause.means)}{' '}
          <Text as="span" color="quiet">
            {words(cause.todo)}
          </Text>
        </Text>
      )}
      {problem && <Note alarm>The evidence could not be fetched: {problem}</Note>}
      {!view && !problem && <Spinner mt="4" size="sm" role="status" aria-label="Fetching the evidence" />}
      {view && (
        <>
          <WorkedOut view={view} opened={opened} />
          <DayList view={view} folded={view.orderCount + view.claimCount > 0} />
          <OrderList view={view} more={more} />
          <ClaimList view={view} more={more} />
          {view.orderCount + view.claimCount + view.days.length === 0 && (
            <Text mt="3">There are none in this period.</Text>
          )}
        </>
      )}
    </SidePanel>
  )
}

const isMoney = ({ figure, worth }: Opened) => worth === true || openingOf(figure).unit === 'money'

/** A figure in its unit. */
function amountText(
  { money, ratioText, tenths, count }: Formats,
  figure: Figure,
  amount: number | null,
  currency: string,
  worth = false,
): string {
  if (amount === null) return UNKNOWN
  const { unit } = openingOf(figure)
  if (worth || unit === 'money') return `${money(amount, currency)} ${currency}`
  if (unit === 'ratio') return ratioText(amount)
  const said = figure === 'estimated' || amount % 1 !== 0 ? tenths(amount) : count(amount)
  return figure === 'estimated' ? `${said} estimated orders` : `${said} ${unit}`
}

/** How the figure comes about, in a sentence. */
function WorkedOut({ view, opened }: { view: FigureView; opened: Opened }) {
  const formats = useFormats()
  const { tenths, count } = formats
  const networkName = useNetworkName()
  const words = useResultWords()
  const { figure, currency, parts, orderCount, orderParts, orderAdded } = view
  const network = networkName(opened.scope.network ?? '')
  const said = (part: NonNullable<typeof parts>['over']) =>
    amountText(formats, part.figure, part.amount, currency, part.worth)
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
