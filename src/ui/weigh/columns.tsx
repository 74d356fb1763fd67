'use client'
import { WHOLE } from '@/core/evidence/place'
import { pathKey } from '@/core/shared/path'
import { stepBefore } from '@/core/signals/journey'
import { ratio } from '@/core/weigh/figures'
import { plannedAd } from '@/core/weigh/moves'
import type { Figure } from '@/core/weigh/openings'
import { breakEvenRoasOf, type JudgedRow } from '@/core/weigh/rows'
import { isOfClicks, isUnsaid } from '@/core/weigh/segments'
import { marginalReturn } from '@/core/weigh/whatIf'
import { EvidenceBalance } from '../evidence/Balance'
import { type Formats, UNKNOWN } from '../format'
import type { Column as TableColumn } from '../parts/table/columns'
import { Ranged, SparkLine } from './marks'
import { CostCell, Name, Open, VerdictCell } from './rowCells'
import { claimedByClick, costIn, estimated, roasIn, titleOf, tracked, valueOfAll } from './rowFigures'
import { verdictWords } from './verdictWords'
import type { WeighFacts, WeighRow } from './weighFacts'

/** The range of an estimate; where nothing was added to what was tracked, it is a count and has none. */
export const rangeText = ({ low, high }: Pick<JudgedRow, 'low' | 'high'>, count: Formats['count']): string =>
  high - low < 1e-6 ? 'counted' : `${count(Math.round(low))}–${count(Math.round(high))}`

/** Credits are whole orders under most rules; a fraction is shown only when there is one. */
const credit = (millionths: number, { count, tenths }: Formats) =>
  millionths % WHOLE === 0 ? count(millionths / WHOLE) : tenths(millionths / WHOLE)

interface Column {
  id: string
  heading?: string
  width: number
  /** how its value is written where it has no cell of its own, and as what it is copied */
  as?: TableColumn<WeighRow>['as']
  /** what it is sorted by; null sorts last */
  value: (row: WeighRow) => number | string | null
  cell?: (row: WeighRow) => React.ReactNode
  /** why a row has no figure */
  none?: (row: WeighRow) => string
  copied?: (row: WeighRow) => string
  hint: string
  words?: boolean
}

const SHARED = 'its spend is that of other rows as well'
const NO_IMPRESSIONS = 'no impression is reported'
const NO_CLICKS = 'no click is billed'
const NOT_THEN = 'it was not there in the days before'
/** Why nothing can be said for its spend; null where something can. */
const noneOfSpend = ({ path, sums }: JudgedRow): string | null => {
  if (isUnsaid(path)) return SHARED
  if (sums.spend > 0) return null
  return isOfClicks(path) ? 'no report says what was spent on it' : 'nothing was billed for it'
}
const noCost = (what: string) => (row: JudgedRow) =>
  noneOfSpend(row) ?? `no ${what}, so there is no cost of one`

/** Columns that depend on what networks and journeys call things are known by those names, whatever stands beside them. */
const named = (name: string) => name.toLowerCase().replace(/[^\p{L}\p{N}]+/gu, '_')
export const conversionColumn = (name: string): string => `claimed_as_${named(name)}`
export const stepColumns = ({ id }: { id: string }) => ({
  reached: `step_${named(id)}`,
  rate: `step_rate_${named(id)}`,
  cost: `step_cost_${named(id)}`,
})

/** Every column of Weigh, one entry each. */
function allColumns(f: WeighFacts): Column[] {
  const { words, money, count, tenths, ratioText, smallPercent } = f
  const figure = (row: JudgedRow, opened: Figure, shown: string) => (
    <Open row={row} figure={opened} shown={shown} />
  )
  const counted = (id: 'impressions' | 'clicks', hint: string, width: number): Column => ({
    id,
    width,
    hint,
    value: r => r.sums[id],
    cell: r => figure(r, id, count(r.sums[id])),
  })
  const cost = (row: JudgedRow | null) => row && costIn(row, estimated(row))
  const earlier = (row: JudgedRow) => f.before?.get(pathKey(...row.path)) ?? null
  const change = (row: JudgedRow) => {
    const [now, then] = [cost(row), cost(earlier(row))]
    return now !== null && then ? now / then - 1 : null
  }
  const billed = 'from the networks’ delivery reports'
  const columns: Column[] = [
    {
      id: 'verdict',
      width: 310,
      words: true,
      hint: 'by how likely further spend pays for itself: left to be cut, right to be raised; click for why',
      value: r => r.verdict.probability,
      copied: r => (r.level === 'total' ? '' : verdictWords[r.verdict.kind]),
      cell: r => <VerdictCell row={r} facts={f} />,
    },
    {
      id: 'cost',
      heading: 'cost estimated',
      width: 196,
      as: 'amount',
      hint: 'spend for each estimated order, its range, and where that stands against the row’s own line',
      none: noCost('order'),
      value: cost,
      cell: r => <CostCell row={r} facts={f} />,
    },
    {
      id: 'line',
      width: 64,
      as: 'amount',
      hint: 'what an order of this row may cost: what it leaves, or the target',
      none: r =>
        r.level === 'total'
          ? 'each row has its own: that of all stands above'
          : isUnsaid(r.path)
            ? SHARED
            : 'no order yet to work out its profit from',
      value: r => (r.level === 'total' || isUnsaid(r.path) ? null : r.line),
    },
    {
      id: 'spend',
      width: 78,
      as: 'amount',
      hint: billed,
      value: r => r.sums.spend,
      cell: r =>
        r.sums.assumedSpend > 0 ? (
          <span title={`${money(r.sums.assumedSpend)} of it is an assumption: shared by clicks`}>
            ≈ {figure(r, 'spend', money(r.sums.spend))}
          </span>
        ) : (
          figure(r, 'spend', money(r.sums.spend))
        ),
    },
    {
      id: 'estimated',
      width: 104,
      hint: 'true orders by both witnesses, with the range that holds them four times in five',
      value: estimated,
      cell: r => <Ranged range={rangeText(r, count)}>{figure(r, 'estimated', tenths(estimated(r)))}</Ranged>,
    },
    {
      id: 'balance',
      heading: 'claims | orders',
      width: 92,
      hint: 'left what the network claims; right proven, tagged, and added by estimate',
      value: r => r.sums.claimed - estimated(r),
      cell: r => (
        <EvidenceBalance
          claimed={r.sums.claimed}
          proven={r.sums.provenCredit / WHOLE}
          tagged={r.sums.taggedCredit / WHOLE}
          estimated={estimated(r)}
          most={r.level === 'total' ? Math.max(r.sums.claimed, estimated(r)) : f.most}
        />
      ),
    },
    {
      id: 'roas',
      heading: 'ROAS',
      width: 50,
      hint: 'value of estimated orders over spend',
      none: r => noneOfSpend(r) ?? '',
      value: r => roasIn(r, r.sums.estimatedValue),
      cell: r => figure(r, 'roas', ratioText(roasIn(r, r.sums.estimatedValue))),
    },
    {
      id: 'break_even_roas',
      heading: 'break-even ROAS',
      width: 66,
      hint: 'order value over spend at which the row pays back; where its ads bring several results, of all of them',
      none: r => (isUnsaid(r.path) ? SHARED : 'no order yet to work out its profit from'),
      value: r => (isUnsaid(r.path) ? null : breakEvenRoasOf(r)),
      cell: r => ratioText(breakEvenRoasOf(r)),
    },
    {
      id: 'roas_all',
      heading: 'ROAS, all results',
      width: 66,
      hint: 'value of all results that its ads bring, over spend',
      none: r => noneOfSpend(r) ?? '',
      value: r => roasIn(r, valueOfAll(r)),
      cell: r => ratioText(roasIn(r, valueOfAll(r))),
    },
    {
      id: 'value_share',
      heading: 'share of all value',
      width: 66,
      as: 'share',
      hint: 'order value as a share of the value of all results that its ads bring',
      none: () => 'its ads brought nothing of value',
      value: r => ratio(r.sums.estimatedValue, valueOfAll(r)),
    },
    {
      id: 'profit',
      width: 82,
      as: 'amount',
      hint: 'profit of all results before ads, less spend',
      none: () => SHARED,
      value: r => (isUnsaid(r.path) ? null : Math.round(r.leaves - r.sums.spend)),
    },
    {
      id: 'spark',
      heading: 'trend',
      width: 68,
      hint: 'what an order cost in equal stretches of the period',
      value: r => r.sums.spend,
      copied: () => '',
      cell: r => <SparkLine spark={f.more.sparks?.[pathKey(...r.path)]} />,
    },
    counted('impressions', billed, 80),
    counted('clicks', billed, 58),
    {
      id: 'ctr',
      heading: 'CTR',
      width: 56,
      as: 'share',
      hint: 'clicks for each impression',
      none: () => NO_IMPRESSIONS,
      value: r => ratio(r.sums.clicks, r.sums.impressions),
      cell: r => {
        const share = ratio(r.sums.clicks, r.sums.impressions)
        return share === null ? UNKNOWN : `${ratioText(share * 100)} %`
      },
    },
    {
      id: 'cpc',
      heading: 'CPC',
      width: 56,
      as: 'amount',
      hint: 'spend for each click',
      none: () => NO_CLICKS,
      value: r => ratio(r.sums.spend, r.sums.clicks),
    },
    {
      id: 'cpm',
      heading: 'CPM',
      width: 60,
      as: 'amount',
      hint: 'spend for a thousand impressions',
      none: () => NO_IMPRESSIONS,
      value: r => ratio(1000 * r.sums.spend, r.sums.impressions),
    },
    {
      id: 'frequency',
      width: 70,
      hint: 'how often those who were reached saw it in a day, where its network reports whom it reached',
      none: () => 'its network does not report how many it reached',
      value: r => ratio(r.sums.reachedImpressions, r.sums.reach),
      cell: r => ratioText(ratio(r.sums.reachedImpressions, r.sums.reach)),
    },
    {
      id: 'rate',
      heading: 'orders for clicks',
      width: 64,
      as: 'share',
      hint: 'estimated orders for each click that is billed',
      none: () => NO_CLICKS,
      value: r => ratio(estimated(r), r.sums.clicks),
      cell: r => {
        const share = ratio(estimated(r), r.sums.clicks)
        return share === null ? UNKNOWN : smallPercent(share)
      },
    },
    {
      id: 'claimed',
      width: 58,
      hint: 'conversions that the network reports as its own',
      value: r => r.sums.claimed,
      cell: r => figure(r, 'claims', count(r.sums.claimed)),
    },
    {
      id: 'claimed_by_click',
      heading: 'claimed, by click',
      width: 66,
      hint: 'conversions that the network claims after a click',
      value: claimedByClick,
    },
    {
      id: 'claimed_by_view',
      heading: 'claimed, by view',
      width: 66,
      hint: 'conversions that the network claims for somebody who only saw the ad',
      value: r => r.sums.claimedByView,
    },
    {
      id: 'proven',
      width: 56,
      hint: 'orders that our evidence proves',
      value: r => r.sums.provenCredit,
      copied: r => String(r.sums.provenCredit / WHOLE),
      cell: r => figure(r, 'proven', credit(r.sums.provenCredit, f)),
    },
    {
      id: 'tagged',
      width: 52,
      hint: 'orders that only carry the ad’s parameters',
      value: r => r.sums.taggedCredit,
      copied: r => String(r.sums.taggedCredit / WHOLE),
      cell: r => figure(r, 'tagged', credit(r.sums.taggedCredit, f)),
    },
    {
      id: 'cost_claimed',
      heading: 'cost claimed',
      width: 66,
      as: 'amount',
      hint: 'spend for each claim',
      none: noCost('claim'),
      value: r => costIn(r, r.sums.claimed),
      cell: r => figure(r, 'cost_claimed', money(costIn(r, r.sums.claimed))),
    },
    {
      id: 'cost_tracked',
      heading: 'cost tracked',
      width: 66,
      as: 'amount',
      hint: 'spend for each proven or tagged order',
      none: noCost('proven or tagged order'),
      value: r => costIn(r, tracked(r)),
      cell: r => figure(r, 'cost_tracked', money(costIn(r, tracked(r)))),
    },
    {
      id: 'value',
      width: 82,
      as: 'amount',
      hint: 'what estimated orders are worth',
      value: r => r.sums.estimatedValue,
    },
    {
      id: 'average',
      heading: 'an order is worth',
      width: 74,
      as: 'amount',
      hint: 'value of estimated orders over how many they are',
      none: () => 'no order, so there is nothing that one is worth',
      value: r => ratio(r.sums.estimatedValue, estimated(r)),
    },
    {
      id: 'roas_claimed',
      heading: 'ROAS claimed',
      width: 60,
      hint: 'value that the network claims over spend',
      none: r => noneOfSpend(r) ?? '',
      value: r => roasIn(r, r.sums.claimedValue),
      cell: r => ratioText(roasIn(r, r.sums.claimedValue)),
    },
    {
      id: 'roas_tracked',
      heading: 'ROAS tracked',
      width: 60,
      hint: 'value of proven and tagged orders over spend',
      none: r => noneOfSpend(r) ?? '',
      value: r => roasIn(r, r.sums.trackedValue),
      cell: r => ratioText(roasIn(r, r.sums.trackedValue)),
    },
    {
      id: 'capture',
      width: 60,
      as: 'share',
      hint: 'of the orders of its network, how many the network claims',
      none: r => (r.network ? 'its network claims none of its orders' : 'each network has its own'),
      value: r => f.captures[r.network] ?? null,
      cell: r => f.percent(f.captures[r.network] ?? null),
    },
    {
      id: 'marginal',
      heading: `next ${f.currency} brings`,
      width: 70,
      hint: 'what one more unit of spend is expected to bring back of what orders leave; over 1 it pays for itself',
      none: r =>
        r.level === 'total'
          ? 'each row has its own'
          : (noneOfSpend(r) ?? 'no order yet to work out its profit from'),
      value: r => (r.level === 'total' ? null : marginalReturn(plannedAd(r), 1, f.elasticity)),
      cell: r => ratioText(r.level === 'total' ? null : marginalReturn(plannedAd(r), 1, f.elasticity)),
    },
    {
      id: 'last_spent',
      heading: 'last spent',
      width: 96,
      as: 'day',
      hint: 'the last day on which anything was billed for it',
      none: () => 'nothing was ever billed for it',
      value: r =>
        r.lastSpent === null ? null : new Date(r.lastSpent * 86_400_000).toISOString().slice(0, 10),
    },
  ]
  if (f.before)
    columns.push(
      {
        id: 'spend_before',
        heading: 'spend before',
        width: 82,
        as: 'amount',
        hint: 'in as many days before',
        none: () => NOT_THEN,
        value: r => earlier(r)?.sums.spend ?? null,
      },
      {
        id: 'cost_before',
        heading: 'cost before',
        width: 70,
        as: 'amount',
        hint: 'spend for each estimated order, in as many days before',
        none: r => (earlier(r) ? noCost('order')(earlier(r)!) : NOT_THEN),
        value: r => cost(earlier(r)),
      },
      {
        id: 'cost_change',
        heading: 'cost, change',
        width: 60,
        as: 'share',
        hint: 'of the estimated cost, against as many days before',
        none: () => 'one of the two periods has no cost of an order',
        value: change,
        cell: r => `${(change(r) ?? 0) > 0 ? '+' : ''}${f.percent(change(r))}`,
      },
    )
  f.more.conversions?.names.forEach((name, i) => {
    const own = (r: WeighRow) =>
      r.level === 'total'
        ? Object.entries(f.more.conversions!.rows).reduce(
            (sum, [key, counts]) => sum + (JSON.parse(key).length === 2 ? (counts[i] ?? 0) : 0),
            0,
          )
        : (f.more.conversions!.rows[pathKey(...r.path)]?.[i] ?? 0)
    columns.push({
      id: conversionColumn(name),
      heading: `claimed as ${name}`,
      width: 76,
      hint: `conversions that the network calls ${name}`,
      value: own,
    })
  })
  const { steps: walk = [], rows: walked = {} } = f.more.steps ?? {}
  walk.forEach((step, i) => {
    const { name } = step
    const own = stepColumns(step)
    // Clicks that are billed and of which nobody was seen on the site are no clicks of which none went on.
    const isUnseen = (r: WeighRow) => r.sums.clicks > 0 && !walked[pathKey(...r.path)]
    const people = (r: WeighRow, step: number) => walked[pathKey(...r.path)]?.[step] ?? 0
    const noneOf = (words: string) => (r: WeighRow) =>
      isUnseen(r) ? 'none of its shoppers was seen on the site: do its pages carry the tag?' : words
    const from = stepBefore(walk, i)
    columns.push({
      id: own.reached,
      heading: name,
      width: 76,
      hint: `people of this row who were seen at the step “${name}”`,
      none: noneOf(''),
      value: r => (isUnseen(r) ? null : people(r, i)),
    })
    if (from >= 0)
      columns.push({
        id: own.rate,
        heading: `to ${name}`,
        width: 66,
        as: 'share',
        hint: `of those at “${walk[from]!.name}”, who went on to “${name}”`,
        none: noneOf(`nobody of it reached “${walk[from]!.name}”`),
        value: r => ratio(people(r, i), people(r, from)),
      })
    columns.push({
      id: own.cost,
      heading: `cost of ${name}`,
      width: 70,
      as: 'amount',
      hint: `spend for each person seen at “${name}”; true costs are lower, since some are not seen`,
      none: noneOf(`nobody of it reached “${name}”`),
      value: r => ratio(r.sums.spend, people(r, i)),
    })
  })
  return columns.map(column => ({
    ...column,
    ...(column.heading ? { heading: words(column.heading) } : {}),
    hint: words(column.hint),
    ...(column.none && { none: (row: WeighRow) => words(column.none!(row)) }),
  }))
}

/**
 * The columns of Weigh: those of a set from the left, then the others, which are shown on request.
 *
 * @param extra columns that stand after the name: of a plan that is made
 */
export function weighColumns(
  facts: WeighFacts,
  set: readonly string[],
  extra: readonly TableColumn<WeighRow>[] = [],
): TableColumn<WeighRow>[] {
  const name: TableColumn<WeighRow> = {
    id: 'name',
    heading: `money in ${facts.currency}`,
    words: true,
    width: 204,
    value: titleOf,
    cell: row => <Name row={row} networkName={facts.networkName} />,
  }
  const all = allColumns(facts)
  const shown = set.flatMap(id => all.find(column => column.id === id) ?? [])
  const comparing = facts.before ? ['cost_change'] : []
  return [
    name,
    ...extra,
    ...[...shown, ...all.filter(column => !shown.includes(column))].map(
      (column): TableColumn<WeighRow> => ({
        ...column,
        asked: !shown.includes(column) && !comparing.includes(column.id),
      }),
    ),
  ]
}
