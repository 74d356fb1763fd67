'use client'
import { Box, Flex } from '@chakra-ui/react'
import type { NameDimension } from '@/core/weigh/byPart'
import { addSums, costOf, noSums, ratio } from '@/core/weigh/figures'
import { scopeOf } from '@/core/weigh/rows'
import type { WeighView } from '@/server/compute/views/weigh'
import { FigureLink } from '../evidence/PanelContext'
import { GradeMark } from '../evidence/texture'
import { useFormats } from '../format'
import { Note, Sentence } from '../parts/Page'
import { useNetworkName } from '../shell/NetworkNames'
import { useResultWords } from '../shell/ResultWords'
import { WeighTable } from './WeighTable'

/** Weigh: what one result cost, by campaign, ad set and ad. */
export function WeighScreen({
  view,
  before,
  network,
  dimensions,
}: {
  view: WeighView
  /** that of as many days before, where it is asked for */
  before: WeighView | null
  network: string | null
  dimensions: readonly NameDimension[]
}) {
  const { money, tenths, ratioText } = useFormats()
  const { currency, line } = view
  const networkName = useNetworkName()
  const words = useResultWords()
  const totals = {
    ...view.totals,
    network: network ?? '',
    name: network ? `All of ${networkName(network)}` : 'All ads',
  }
  const { sums } = totals
  const scope = scopeOf(totals)
  const { campaigns } = view
  const over = campaigns.filter(r => {
    const cost = ratio(r.sums.spend, r.sums.estimatedTenths / 10)
    return r.line !== null && cost !== null && cost > r.line
  })
  const spentOver = over.reduce((sum, r) => addSums(sum, r.sums), noSums()).spend
  const barren = campaigns.filter(r => r.sums.spend > 0 && r.sums.estimatedTenths === 0)
  const spentBarren = barren.reduce((sum, r) => sum + r.sums.spend, 0)
  const overWords = [
    over.length > 0 &&
      `${over.length} of ${campaigns.length} campaigns ${over.length === 1 ? 'costs' : 'cost'} more than ${over.length === 1 ? 'its' : 'their'} own line, with ${money(spentOver)} of the spend.`,
    barren.length > 0 &&
      `${barren.length} ${barren.length === 1 ? 'has' : 'have'} spent ${money(spentBarren)} and brought ${words('no order')}.`,
    over.length + barren.length === 0 && line !== null && 'No campaign costs more than its own.',
  ]
    .filter(Boolean)
    .join(' ')
  return (
    <Flex direction="column" height="100%">
      <Box px="5" pt="4" pb="1">
        <Sentence>
          <FigureLink
            figure="spend"
            scope={scope}
            of={totals.name}
            shown={`${money(sums.spend)} ${currency}`}
          />{' '}
          brought an estimated{' '}
          <FigureLink
            figure="estimated"
            scope={scope}
            of={totals.name}
            shown={words(`${tenths(sums.estimatedTenths / 10)} orders`)}
          />
          : one cost{' '}
          <FigureLink
            figure="cost"
            scope={scope}
            of={totals.name}
            shown={money(costOf(sums, sums.estimatedTenths / 10))}
          />
          , and the line is <b>{money(line)}</b>.{' '}
          {network !== null && campaigns.length === 0
            ? `No ads of ${networkName(network)} are known: choose another network above, or take in its report.`
            : overWords}
        </Sentence>
        {before && (
          <Note>
            In as many days before: {money(before.totals.sums.spend)} {currency} brought an estimated{' '}
            {words(`${tenths(before.totals.sums.estimatedTenths / 10)} orders`)}, at{' '}
            {money(costOf(before.totals.sums, before.totals.sums.estimatedTenths / 10))} each.
          </Note>
        )}
        <Flex gap="4" mt="2" color="quiet" fontSize="12px" wrap="wrap">
          <span>claimed by networks</span>
          <GradeMark grade="claimed" side="network" />
          <span>our evidence</span>
          <GradeMark grade="proven" />
          <GradeMark grade="tagged" />
          <GradeMark grade="unplaced" />
          <span>added by estimate</span>
          <span>break-even ROAS {ratioText(view.breakEvenRoas)}</span>
        </Flex>
      </Box>
      <Box flex="1" minHeight="250px" px="5">
        <WeighTable key={view.by} view={view} before={before} totals={totals} dimensions={dimensions} />
      </Box>
    </Flex>
  )
}
