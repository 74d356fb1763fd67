'use client'
import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { ratio } from '@/core/weigh/figures'
import { plannedAd } from '@/core/weigh/moves'
import { breakEvenRoasOf, scopeOf } from '@/core/weigh/rows'
import type { WeighedRow } from '@/core/weigh/weighRow'
import { marginalReturn } from '@/core/weigh/whatIf'
import { FigureLink } from '../evidence/PanelContext'
import { useFormats } from '../format'
import { AmountField } from '../parts/AmountField'
import { SidePanel } from '../parts/SidePanel'
import { WordLink } from '../parts/WordLink'
import { useNetworkName } from '../shell/NetworkNames'
import { useResultName, useResultWords } from '../shell/ResultWords'
import { rangeText } from './columns'
import { ChanceMark, CostMark } from './marks'
import type { Plan } from './plan/usePlan'
import { costIn, estimated, titleOf, valueOfAll } from './rowFigures'
import { doubtWords, tiringSentence, verdictSentence, verdictWords } from './verdictWords'

/** Why a row is judged as it is: its verdict, what that rests on, its line, and what can be done. */
export function WhyPanel({
  row,
  plan,
  query,
  setLine,
  close,
}: {
  row: WeighedRow
  plan: Plan
  query: string
  /** opens what its line is made of */
  setLine: () => void
  close: () => void
}) {
  const f = useFormats()
  const { money, tenths, count, percent, ratioText, currency } = f
  const words = useResultWords()
  const networkName = useNetworkName()
  const resultName = useResultName()
  const { verdict, worth, line, left } = row
  const cost = costIn(row, estimated(row))
  const [low, high] = [costIn(row, row.high), costIn(row, row.low)]
  const next = marginalReturn(plannedAd(row), 1, plan.draft.rules.elasticity)
  const opens = { scope: scopeOf(row), of: titleOf(row), billed: true }
  const isRow = row.level === 'campaign' || row.level === 'ad_set' || row.level === 'ad'
  const [budget, setBudget] = useState<number | undefined>()
  const trend = `/weigh/trend?${query}${query ? '&' : ''}row=${encodeURIComponent(JSON.stringify(row.path))}`
  return (
    <SidePanel
      evidence
      label="Why"
      above={row.level === 'part' ? '' : networkName(row.network)}
      title={titleOf(row)}
      width={360}
      close={close}
    >
      <Flex gap="2" align="center" mt="2">
        <ChanceMark probability={verdict.probability} kind={verdict.kind} />
        <Text as="span" fontWeight="650" fontSize="16px">
          {verdictWords[verdict.kind]}
        </Text>
      </Flex>
      <Text mt="1">{verdictSentence(row, f, words, resultName)}</Text>
      {row.tires.map(one => (
        <Text key={one.in} mt="2">
          {tiringSentence(one, f)}
        </Text>
      ))}
      {row.doubts.map(doubt => (
        <Text key={doubt} mt="2" bg="mark" px="2" py="1">
          {doubtWords[doubt].means}{' '}
          {doubt === 'lost_tracking' && (
            <WordLink href={`/reconcile/changed?${query}`}>What changed</WordLink>
          )}
          {doubt === 'lost_clicks' && <WordLink href="/links/arrivals">Arrivals</WordLink>}
        </Text>
      ))}
      <Box as="dl" mt="3" display="grid" gridTemplateColumns="1fr auto" columnGap="3" rowGap="1">
        <Pair term="spend">
          <FigureLink figure="spend" shown={money(row.sums.spend)} {...opens} />
        </Pair>
        <Pair term={words('estimated orders')}>
          <FigureLink figure="estimated" shown={tenths(estimated(row))} {...opens} />{' '}
          <Text as="span" color="quiet" fontSize="11px">
            {rangeText(row, count)}
          </Text>
        </Pair>
        <Pair term={words('one cost')}>
          <CostMark cost={cost} low={low} high={high} line={line} />{' '}
          <FigureLink figure="cost" shown={money(cost)} {...opens} />
        </Pair>
        <Pair term="break-even">{money(line)}</Pair>
        <Pair term="break-even ROAS">{ratioText(breakEvenRoasOf(row))}</Pair>
        {row.restsOn && (
          <Pair term="share of all value">{percent(ratio(row.sums.estimatedValue, valueOfAll(row)))}</Pair>
        )}
        <Pair term={words('an order is worth')}>
          {worth ? (
            <>
              {money(worth.mean)}{' '}
              <Text as="span" color="quiet" fontSize="11px">
                {money(worth.low)}–{money(worth.high)}
              </Text>
            </>
          ) : (
            '—'
          )}
        </Pair>
        {row.restsOn ? (
          <Pair term="profit of all results before ads">{money(Math.round(row.leaves))}</Pair>
        ) : (
          <Pair term={words('profit of an order before ads')}>{money(left)}</Pair>
        )}
        {isRow && (
          <Pair term={`its next ${currency} brings back`}>{next === null ? '—' : ratioText(next)}</Pair>
        )}
      </Box>
      <Text mt="2" color="quiet">
        {words(
          row.restsOn
            ? 'Its ads bring several results. The verdict counts the value and margin of each; the cost above is of orders alone.'
            : left !== null && line !== null && Math.round(left) !== Math.round(line)
              ? 'Break-even is a target that somebody set; the profit of an order before ads stands beside it.'
              : 'Break-even is the profit of an order before ads, from its own orders and those of the rows above it.',
        )}
      </Text>
      {isRow && (
        <Flex gap="2" mt="3" wrap="wrap">
          <Button onClick={() => plan.change([{ path: row.path, factor: 0 }])}>Plan to cut it</Button>
          <Button onClick={() => plan.change([{ path: row.path, factor: 1.2 }])}>Plan 20 % more</Button>
          <Button onClick={setLine}>Margin and target …</Button>
        </Flex>
      )}
      {isRow && row.sums.spend > 0 && (
        <Flex gap="2" mt="2" align="end">
          <AmountField
            label="Or its budget for as many days"
            currency={currency}
            value={budget}
            change={setBudget}
            placeholder={money(Math.round(plan.factorOf(row.path) * row.sums.spend))}
          />
          <Button
            disabled={budget === undefined || Number.isNaN(budget)}
            onClick={() =>
              plan.change([{ path: row.path, factor: Number(((budget ?? 0) / row.sums.spend).toFixed(4)) }])
            }
          >
            Plan it
          </Button>
        </Flex>
      )}
      {isRow && (
        <Text mt="3">
          <WordLink href={trend}>Its history</WordLink>
        </Text>
      )}
    </SidePanel>
  )
}

const Pair = ({ term, children }: { term: string; children: React.ReactNode }) => (
  <>
    <Box as="dt" color="quiet">
      {term}
    </Box>
    <Box as="dd" textAlign="end">
      {children}
    </Box>
  </>
)
