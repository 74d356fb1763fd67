'use client'
import { Box, Button, Flex } from '@chakra-ui/react'
import dynamic from 'next/dynamic'
import { useSearchParams } from 'next/navigation'
import { startTransition, useCallback, useMemo, useState } from 'react'
import { ALL_RESULTS, JUDGED_RESULT } from '@/core/intake/judgedResult'
import type { Settings } from '@/core/intake/settings'
import type { NameDimension } from '@/core/weigh/byPart'
import { addSums, costOf, isNone, noSums, ratio } from '@/core/weigh/figures'
import { breakEvenRoasOf, type JudgedRow, scopeOf } from '@/core/weigh/rows'
import type { WeighedRow } from '@/core/weigh/weighRow'
import { planKey } from '@/core/weigh/whatIf'
import type { WeighView } from '@/server/compute/views/weigh'
import { FigureLink, usePanel } from '../evidence/PanelContext'
import { useFormats } from '../format'
import { Note, Sentence } from '../parts/Page'
import { PartNav } from '../parts/PartNav'
import { useServer } from '../parts/useServer'
import { WordLink } from '../parts/WordLink'
import type { SettingsActions } from '../settings/SettingsForm'
import { useNetworkName } from '../shell/NetworkNames'
import { useJudgedResult, useResultName, useResultWords } from '../shell/ResultWords'
import { ListsButton } from './ListsButton'
import { PlanBar } from './plan/PlanBar'
import { usePlan } from './plan/usePlan'
import { RestsOnNotes } from './RestsOnNotes'
import { costIn, estimated, titleOf, valueOfAll } from './rowFigures'
import { queryOf, WeighTable } from './WeighTable'

const WhyPanel = dynamic(() => import('./WhyPanel').then(m => m.WhyPanel), { ssr: false })
const LinePanel = dynamic(() => import('./LinePanel').then(m => m.LinePanel), { ssr: false })
const RulesPanel = dynamic(() => import('./RulesPanel').then(m => m.RulesPanel), { ssr: false })

type Beside = { what: 'why'; row: WeighedRow } | { what: 'line'; row: JudgedRow } | { what: 'rules' }

/** Weigh: what one result cost, by campaign, ad set and ad, and what to do about it. */
export function WeighScreen({
  view,
  before,
  network,
  dimensions,
  journeys,
  settings,
  actions,
}: {
  view: WeighView
  /** that of as many days before, where it is asked for */
  before: WeighView | null
  network: string | null
  dimensions: readonly NameDimension[]
  journeys: readonly { id: string; name: string }[]
  settings: Settings
  actions: SettingsActions
}) {
  const { money, tenths, ratioText, percent, day } = useFormats()
  const result = useJudgedResult()
  const resultName = useResultName()
  const isAll = result === ALL_RESULTS
  const { currency, line } = view
  const networkName = useNetworkName()
  const words = useResultWords()
  const address = useSearchParams().toString()
  const query = queryOf(address)
  const [beside, show] = useState<Beside | null>(null)
  const { open, opened } = usePanel()
  const totals = useMemo(
    () => ({
      ...view.totals,
      network: network ?? '',
      name: network ? `All of ${networkName(network)}` : 'All ads',
    }),
    [view.totals, network, networkName],
  )
  const { answer: below, problem } = useServer<WeighedRow[]>(view.by === null ? `/api/weigh?${query}` : null)
  const ads = useMemo(() => below?.filter(row => row.level === 'ad'), [below])
  const plan = usePlan(totals, ads)
  const names = useMemo(
    () => new Map([...view.campaigns, ...(below ?? [])].map(row => [planKey(row.path), titleOf(row)])),
    [view.campaigns, below],
  )
  const why = useCallback(
    (row: WeighedRow) => {
      startTransition(() => {
        open(null)
        show({ what: 'why', row })
      })
    },
    [open],
  )
  const assumed = (view.byPart ?? []).reduce(
    (sum, row) => (row.level === 'part' ? sum + row.sums.assumedSpend : sum),
    0,
  )
  const campaignOf = ({ path }: JudgedRow) =>
    view.campaigns.find(row => row.network === path[0] && row.id === path[1])
  return (
    <Flex height="100%" position="relative">
      <Flex direction="column" flex="1" minWidth="0">
        <Box px="5" pt="3" pb="0">
          <Flex gap="4" justify="space-between" align="start">
            <PartNav here="/weigh" />
            <Flex gap="2" align="center" wrap="wrap" justify="flex-end" className="no-print">
              <ListsButton view={view} network={network} />
              <Button onClick={() => show({ what: 'rules' })}>When to cut, when to raise</Button>
              <Button onClick={() => plan.setOpen(true)} disabled={view.by !== null}>
                What if …
              </Button>
            </Flex>
          </Flex>
          <Sentence>
            <FigureLink
              figure="spend"
              scope={scopeOf(totals)}
              of={totals.name}
              shown={`${money(totals.sums.spend)} ${currency}`}
              billed
            />{' '}
            {isAll ? (
              <>
                brought results worth <b>{money(totals.sums.estimatedValue)}</b> at a ROAS of{' '}
                <b>{ratioText(ratio(totals.sums.estimatedValue, totals.sums.spend))}</b>. Break-even is{' '}
                {ratioText(breakEvenRoasOf(totals))}. These are an estimated{' '}
              </>
            ) : view.rests.tracked ? (
              'brought at least '
            ) : (
              'brought an estimated '
            )}
            <FigureLink
              figure="estimated"
              scope={scopeOf(totals)}
              of={totals.name}
              shown={words(
                `${tenths(estimated(totals))} ${view.rests.tracked ? 'tracked orders' : 'orders'}`,
              )}
              billed
            />
            {isAll ? (
              ` of ${totals.byResult?.length ?? 0} kinds. `
            ) : (
              <>
                : one cost{' '}
                <FigureLink
                  figure="cost"
                  scope={scopeOf(totals)}
                  of={totals.name}
                  shown={money(costIn(totals, estimated(totals)))}
                  billed
                />
                {view.rests.tracked && ' at most'}, and the line is <b>{money(line)}</b>.{' '}
              </>
            )}
            {network !== null && view.campaigns.length === 0
              ? `No ads of ${networkName(network)} are known: choose another network above, or take in its report.`
              : overWords(view, money, words)}
          </Sentence>
          {!isAll && (
            <Note>
              Break-even ROAS is {ratioText(view.breakEvenRoas)}.
              {network === null &&
                result === JUDGED_RESULT &&
                view.blendedRoas !== null &&
                ` Blended ROAS is ${ratioText(view.blendedRoas)}: all order value over all ad spend.`}
              {totals.restsOn && (
                <>
                  {' '}
                  {resultName(result)} is {percent(ratio(totals.sums.estimatedValue, valueOfAll(totals)))} of
                  the value that ads bring; verdicts count{' '}
                  <WordLink href={`/weigh?${withAllResults(query)}`}>all results by value</WordLink>.
                </>
              )}
            </Note>
          )}
          <RestsOnNotes rests={view.rests} />
          {view.unbilled.length > 0 && (
            <Note>
              {toldWords(view, networkName, day)}, so that nothing looks cheap for want of its bill.
            </Note>
          )}
          {view.byPart && assumed > 0 && (
            <Note>
              {money(assumed)} of the spend is shared by clicks (≈), because no report splits it: an
              assumption. Clicks that cost more than others make their rows look cheaper.
            </Note>
          )}
          {before && (
            <Note>
              In as many days before: {money(before.totals.sums.spend)} {currency} brought an estimated{' '}
              {words(`${tenths(before.totals.sums.estimatedTenths / 10)} orders`)}, at{' '}
              {money(costOf(before.totals.sums, before.totals.sums.estimatedTenths / 10))} each.
            </Note>
          )}
        </Box>
        <Box flex="1" minHeight="250px" px="5">
          <WeighTable
            key={view.by}
            view={view}
            before={before}
            totals={totals}
            dimensions={dimensions}
            below={below}
            problem={problem}
            journeys={journeys}
            plan={plan}
            why={why}
          />
        </Box>
        {plan.open && view.by === null && (
          <PlanBar
            plan={plan}
            nameOf={path => names.get(planKey(path)) ?? path.at(-1) ?? ''}
            query={query}
            days={view.days}
          />
        )}
      </Flex>
      {beside?.what === 'why' && !opened && (
        <WhyPanel
          key={planKey(beside.row.path)}
          row={beside.row}
          plan={plan}
          query={query}
          setLine={() => show({ what: 'line', row: beside.row })}
          close={() => show(null)}
        />
      )}
      {beside?.what === 'line' && (
        <LinePanel
          network={beside.row.path[0] ?? ''}
          campaign={beside.row.path[1] ?? ''}
          name={campaignOf(beside.row)?.name || (beside.row.path[1] ?? '')}
          settings={settings}
          actions={actions}
          close={() => show(null)}
        />
      )}
      {beside?.what === 'rules' && (
        <RulesPanel settings={settings} actions={actions} query={query} close={() => show(null)} />
      )}
    </Flex>
  )
}

function withAllResults(query: string): string {
  const asked = new URLSearchParams(query)
  asked.set('result', ALL_RESULTS)
  return asked.toString()
}

/** Up to which day networks have told what they spent: the same day for most, and of those that lag each its own. */
function toldWords(
  { unbilled, toldUntil, period }: WeighView,
  networkName: (id: string) => string,
  day: (day: string) => string,
): string {
  const latest = toldUntil !== null && toldUntil < period.to ? toldUntil : period.to
  const lagging = unbilled.filter(({ until }) => until < latest)
  const days = [...new Set(lagging.map(({ until }) => until))].sort()
  const behind = days.map(
    until =>
      `of ${lagging
        .filter(one => one.until === until)
        .map(one => networkName(one.network))
        .join(', ')} up to ${day(until)}`,
  )
  return behind.length === 0
    ? `Spend is told up to ${day(latest)}: later days are left out`
    : `Spend is told up to ${day(latest)}, but ${behind.join(', ')}: their later days are left out`
}

/** How many campaigns cost more than their own line, or have brought nothing. */
function overWords(
  { campaigns, line }: WeighView,
  money: (minor: number | null) => string,
  words: (text: string) => string,
): string {
  const over = campaigns.filter(r => {
    const cost = costIn(r, estimated(r))
    return r.line !== null && cost !== null && cost > r.line && !isNone(estimated(r))
  })
  const spentOver = over.reduce((sum, r) => addSums(sum, r.sums), noSums()).spend
  const barren = campaigns.filter(r => r.sums.spend > 0 && isNone(estimated(r)))
  const spentBarren = barren.reduce((sum, r) => sum + r.sums.spend, 0)
  return [
    over.length > 0 &&
      `${over.length} of ${campaigns.length} campaigns ${over.length === 1 ? 'costs' : 'cost'} more than ${over.length === 1 ? 'its' : 'their'} own line, with ${money(spentOver)} of the spend.`,
    barren.length > 0 &&
      `${barren.length} ${barren.length === 1 ? 'has' : 'have'} spent ${money(spentBarren)} and brought ${words('no order')}.`,
    over.length + barren.length === 0 && line !== null && 'No campaign costs more than its own.',
  ]
    .filter(Boolean)
    .join(' ')
}
