'use client'
import { Box, Flex, Text } from '@chakra-ui/react'
import { WHOLE } from '@/core/evidence/place'
import { pathKey } from '@/core/shared/path'
import { costOf, ratio } from '@/core/weigh/figures'
import type { Figure } from '@/core/weigh/openings'
import { type JudgedRow, scopeOf } from '@/core/weigh/rows'
import { isUnsaid } from '@/core/weigh/segments'
import { EvidenceBalance } from '../evidence/Balance'
import { FigureLink } from '../evidence/PanelContext'
import { type Formats, UNKNOWN } from '../format'
import type { Column as TableColumn } from '../parts/table/columns'
import { partTitle } from './segmentWords'

export interface WeighRow extends JudgedRow {
  below: WeighRow[]
}

export const titleOf = (row: JudgedRow): string =>
  row.level === 'part' ? (partTitle(row.path[0], row.id) ?? 'not named so') : row.name || 'not broken down'

/** What a row spent on each of some results; nothing is known of it where its spend is that of other rows as well. */
const costIn = ({ path, sums }: JudgedRow, results: number) => (isUnsaid(path) ? null : costOf(sums, results))
const roasIn = ({ path, sums }: JudgedRow) => (isUnsaid(path) ? null : ratio(sums.estimatedValue, sums.spend))

const tracked = (row: JudgedRow) => (row.sums.provenCredit + row.sums.taggedCredit) / WHOLE
const estimated = (row: JudgedRow) => row.sums.estimatedTenths / 10
/** Credits are whole orders under most rules; a fraction is shown only when there is one. */
const credit = (millionths: number, { count, tenths }: Formats) =>
  millionths % WHOLE === 0 ? count(millionths / WHOLE) : tenths(millionths / WHOLE)

function Open({ row, figure, shown }: { row: JudgedRow; figure: Figure; shown: string }) {
  return <FigureLink figure={figure} scope={scopeOf(row)} of={titleOf(row)} shown={shown} />
}

export interface WeighFacts extends Formats {
  breakEvenRoas: number
  /** most orders in one row, for the balances */
  most: number
  /** rows of as many days before, by their path; null where they are not asked for */
  before: ReadonlyMap<string, JudgedRow> | null
}

/** What a verdict rests on, in figures. */
function verdictSentence({ verdict, line, worth }: JudgedRow, { money }: Formats): string {
  const { probability, needed } = verdict
  if (probability === null || line === null) return 'Nothing to judge by yet.'
  const chance = `${Math.round(probability * 100)} % likely that further spend pays for itself`
  const own = worth ? `: a result is worth ${money(worth.mean)} and may cost ${money(line)}` : ''
  return `${chance}${own}.${needed === null ? '' : ` About ${money(needed)} more would tell.`}`
}

const verdictWords = { cut: 'cut', hold: 'hold', raise: 'raise', wait: 'wait' }

interface Column {
  id: string
  heading?: string
  width: number
  /** what it is sorted by; null sorts last */
  value: (row: JudgedRow) => number | string | null
  cell: (row: WeighRow, facts: WeighFacts) => React.ReactNode
  hint: string
  /** whether it is not shown before it is asked for */
  asked?: boolean
}

/** The columns of Weigh, one entry each. */
const columns: Column[] = [
  {
    id: 'spend',
    width: 82,
    hint: 'from the networks’ delivery reports',
    value: r => r.sums.spend,
    cell: (r, f) => <Open row={r} figure="spend" shown={f.money(r.sums.spend)} />,
  },
  {
    id: 'impressions',
    width: 80,
    hint: 'from the networks’ delivery reports',
    value: r => r.sums.impressions,
    cell: (r, f) => <Open row={r} figure="impressions" shown={f.count(r.sums.impressions)} />,
  },
  {
    id: 'clicks',
    width: 58,
    hint: 'from the networks’ delivery reports',
    value: r => r.sums.clicks,
    cell: (r, f) => <Open row={r} figure="clicks" shown={f.count(r.sums.clicks)} />,
  },
  {
    id: 'claimed',
    width: 58,
    hint: 'conversions that the network reports as its own',
    value: r => r.sums.claimed,
    cell: (r, f) => <Open row={r} figure="claims" shown={f.count(r.sums.claimed)} />,
  },
  {
    id: 'balance',
    heading: 'claims | orders',
    width: 96,
    hint: 'left what the network claims; right proven, tagged, and added by estimate',
    value: r => r.sums.claimed - estimated(r),
    cell: (r, f) => (
      <Box pt="4px">
        <EvidenceBalance
          claimed={r.sums.claimed}
          proven={r.sums.provenCredit / WHOLE}
          tagged={r.sums.taggedCredit / WHOLE}
          estimated={estimated(r)}
          most={r.level === 'total' ? Math.max(r.sums.claimed, estimated(r)) : f.most}
        />
      </Box>
    ),
  },
  {
    id: 'proven',
    width: 56,
    hint: 'orders that our evidence proves',
    value: r => r.sums.provenCredit,
    cell: (r, f) => <Open row={r} figure="proven" shown={credit(r.sums.provenCredit, f)} />,
  },
  {
    id: 'tagged',
    width: 52,
    hint: 'orders that only carry the ad’s parameters',
    value: r => r.sums.taggedCredit,
    cell: (r, f) => <Open row={r} figure="tagged" shown={credit(r.sums.taggedCredit, f)} />,
  },
  {
    id: 'estimated',
    width: 118,
    hint: 'true orders by both witnesses, with the range that holds them four times in five',
    value: estimated,
    cell: (r, f) => (
      <Ranged low={f.count(Math.round(r.low))} high={f.count(Math.round(r.high))}>
        <Open row={r} figure="estimated" shown={f.tenths(estimated(r))} />
      </Ranged>
    ),
  },
  {
    id: 'cost_claimed',
    heading: 'cost claimed',
    width: 66,
    hint: 'spend for each claim',
    value: r => costIn(r, r.sums.claimed),
    cell: (r, f) => <Open row={r} figure="cost_claimed" shown={f.money(costIn(r, r.sums.claimed))} />,
  },
  {
    id: 'cost_tracked',
    heading: 'cost tracked',
    width: 66,
    hint: 'spend for each proven or tagged order',
    value: r => costIn(r, tracked(r)),
    cell: (r, f) => <Open row={r} figure="cost_tracked" shown={f.money(costIn(r, tracked(r)))} />,
  },
  {
    id: 'cost',
    heading: 'cost estimated',
    width: 132,
    hint: 'spend for each estimated order, with its range',
    value: r => costIn(r, estimated(r)),
    cell: (r, f) => {
      const cost = costIn(r, estimated(r))
      return (
        <Ranged low={f.money(costIn(r, r.high))} high={f.money(costIn(r, r.low))}>
          <Text
            as="span"
            fontWeight="650"
            color={cost !== null && r.line !== null && cost > r.line ? 'alarm' : undefined}
          >
            <Open row={r} figure="cost" shown={f.money(cost)} />
          </Text>
        </Ranged>
      )
    },
  },
  {
    id: 'roas',
    heading: 'ROAS',
    width: 48,
    hint: 'value of estimated orders over spend',
    value: r => roasIn(r),
    cell: (r, f) => <Open row={r} figure="roas" shown={f.ratioText(roasIn(r))} />,
  },
  {
    id: 'verdict',
    width: 58,
    hint: 'by how likely further spend pays for itself',
    value: r => r.verdict.probability,
    cell: (r, f) => (
      <Text as="span" title={verdictSentence(r, f)} color={r.verdict.kind === 'wait' ? 'quiet' : undefined}>
        {r.level === 'total' || isUnsaid(r.path) ? '' : verdictWords[r.verdict.kind]}
      </Text>
    ),
  },
]

/** The columns with others after the cost, for which impressions make room. */
const beside = (others: readonly Column[]): Column[] =>
  columns.flatMap(column =>
    column.id === 'cost'
      ? [column, ...others]
      : column.id === 'impressions'
        ? { ...column, asked: true }
        : column,
  )

/** What a row was in the days before, and how its cost has changed. */
function columnsBefore(rows: ReadonlyMap<string, JudgedRow>): Column[] {
  const earlier = (row: JudgedRow) => rows.get(pathKey(...row.path)) ?? null
  const cost = (row: JudgedRow | null) => row && costIn(row, estimated(row))
  const change = (row: JudgedRow) => {
    const [now, then] = [cost(row), cost(earlier(row))]
    return now !== null && then ? now / then - 1 : null
  }
  return [
    {
      id: 'spend_before',
      heading: 'spend before',
      asked: true,
      width: 82,
      hint: 'in as many days before',
      value: r => earlier(r)?.sums.spend ?? null,
      cell: (r, f) => f.money(earlier(r)?.sums.spend ?? null),
    },
    {
      id: 'cost_before',
      heading: 'cost before',
      asked: true,
      width: 70,
      hint: 'spend for each estimated order, in as many days before',
      value: r => cost(earlier(r)),
      cell: (r, f) => f.money(cost(earlier(r))),
    },
    {
      id: 'cost_change',
      heading: 'cost, change',
      width: 60,
      hint: 'of the estimated cost, against as many days before',
      value: change,
      cell: (r, f) => `${(change(r) ?? 0) > 0 ? '+' : ''}${f.percent(change(r))}`,
    },
  ]
}

function Ranged({ low, high, children }: { low: string; high: string; children: React.ReactNode }) {
  return (
    <Flex justify="flex-end" gap="1.5" align="baseline">
      {children}
      <Text as="span" color="quiet" fontSize="11px">
        {low === UNKNOWN && high === UNKNOWN ? '' : `${low}–${high}`}
      </Text>
    </Flex>
  )
}

/** What a row is of, with its network beside a campaign. */
function Name({ row, networkName }: { row: WeighRow; networkName: (id: string) => string }) {
  const title = titleOf(row)
  return (
    <Flex gap="2" justify="space-between">
      <Text
        truncate
        maxWidth="180px"
        title={`${title}${row.formerNames.length > 0 ? ` (before: ${row.formerNames.join(', ')})` : ''}`}
        color={row.name ? undefined : 'quiet'}
      >
        {title}
      </Text>
      {row.level === 'campaign' && (
        <Text color="quiet" fontWeight="400" fontSize="11px">
          {networkName(row.network)}
        </Text>
      )}
    </Flex>
  )
}

/**
 * The columns of Weigh.
 *
 * @param facts what cells need besides their row
 * @param words puts what is said of orders in words for the judged result
 */
export const weighColumns = (
  facts: WeighFacts,
  words: (text: string) => string,
  networkName: (id: string) => string,
): TableColumn<WeighRow>[] => [
  {
    id: 'name',
    heading: `money in ${facts.currency}`,
    words: true,
    width: 210,
    value: titleOf,
    cell: row => <Name row={row} networkName={networkName} />,
  },
  ...(facts.before ? beside(columnsBefore(facts.before)) : columns).map(
    ({ id, heading = id, width, value, cell, hint, asked }): TableColumn<WeighRow> => ({
      id,
      ...(/^(spend|cost)/.test(id) && id !== 'cost_change' ? { as: 'amount' } : {}),
      heading: words(heading),
      width,
      hint: words(hint),
      value,
      asked: asked ?? false,
      cell: row => cell(row, facts),
    }),
  ),
]
