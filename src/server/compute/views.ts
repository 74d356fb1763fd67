import { unknownSources } from '@/core/evidence/place'
import { spanOf } from '@/core/shared/days'
import type { Journey } from '@/core/signals/journey'
import { conversionsOf } from '@/core/weigh/conversions'
import { provenCredits } from '@/core/weigh/credits'
import type { Evidence } from '@/core/weigh/evidence'
import { openingOf } from '@/core/weigh/openings'
import { segmentOfPart } from '@/core/weigh/segments'
import { clicksSeen } from '../clicksSeen'
import { compareView } from '../comparison'
import { gatherArrivals } from '../links/arrivals'
import { gatherAlarms } from '../signals/alarms'
import { walkedJourney, walkedRows } from '../signals/journey'
import { partedBy } from './segmented'
import { benchView } from './views/bench'
import { changedView, turnsView } from './views/changed'
import { figureView } from './views/figure'
import { judgeView, type Question } from './views/judged'
import { laterWorthView } from './views/later'
import { entityNamesView, forecastMovesView, outcomesView } from './views/moves'
import { orderEvidenceView, orderView } from './views/order'
import { ownRulesView } from './views/ownRules'
import { pagesView } from './views/pages'
import { reconcileBelowView, reconcileView } from './views/reconcile'
import { settledView } from './views/settled'
import { trendView } from './views/trend'
import {
  adFiguresView,
  rulesTriedView,
  weighBelowView,
  weighConversionsView,
  weighPlanView,
  weighSparksView,
  weighView,
} from './views/weigh'
import type { WorkspaceRecords } from './workspaceRecords'

export const provenCreditsView = (e: Evidence, { period, scope }: Question) =>
  provenCredits(e, period, scope.network)

export const conversionsView = (e: Evidence, { period, scope }: Question) =>
  conversionsOf(e, period, scope.network)

export const unknownSourcesView = (e: Evidence, _: null) => unknownSources(e.data, e.placements)

const journeyView = (
  e: Evidence,
  { journey, ...question }: Question & { journey: Journey },
  from: WorkspaceRecords,
) => walkedJourney(from.database, from.workspace, e, journey, question)

/** How many people of each row reached each step of a journey. */
const stepsView = (
  e: Evidence,
  { journey, ...question }: Question & { journey: Journey },
  from: WorkspaceRecords,
) => walkedRows(from.database, from.workspace, e, journey, question)

const weighBySegment = async (
  e: Evidence,
  question: Parameters<typeof weighView>[1],
  from: WorkspaceRecords,
) => weighView(e, question, await partedBy(e, question.by, from, question.shared === true))

const figureWithClicks = async (
  whole: Evidence,
  question: Parameters<typeof figureView>[1],
  from: WorkspaceRecords,
) => {
  const { database, workspace } = from
  const { part, value = '' } = question.scope
  const e = await partedBy(whole, part, from, question.shared === true)
  const kind = segmentOfPart(part)
  const { lists, over, under } = openingOf(question.figure)
  const opensDays =
    lists.includes('days') || [over, under].some(part => part && openingOf(part).lists.includes('days'))
  const { tree, settings } = e.data
  const zone = settings.time_zone
  const seen = opensDays
    ? await clicksSeen(database, workspace, tree, spanOf(question.period, zone), zone, {
        segment: kind === null ? undefined : { kind, value },
      })
    : []
  return figureView(e, question, seen)
}

const alarmsView = (e: Evidence, now: number, { database, workspace }: WorkspaceRecords) =>
  gatherAlarms(database, workspace, e, now)

/** What can be asked of a worker about the evidence, by name. */
export const views = {
  judge: judgeView,
  compare: compareView,
  weigh: weighBySegment,
  weighBelow: weighBelowView,
  weighSparks: weighSparksView,
  weighConversions: weighConversionsView,
  weighPlan: weighPlanView,
  weighSteps: stepsView,
  rulesTried: rulesTriedView,
  forecastMoves: forecastMovesView,
  outcomes: outcomesView,
  trend: trendView,
  pages: pagesView,
  entityNames: entityNamesView,
  reconcile: reconcileView,
  reconcileBelow: reconcileBelowView,
  changed: changedView,
  turns: turnsView,
  ownRules: ownRulesView,
  bench: benchView,
  figure: figureWithClicks,
  orderEvidence: orderEvidenceView,
  order: orderView,
  unknownSources: unknownSourcesView,
  adFigures: adFiguresView,
  provenCredits: provenCreditsView,
  journey: journeyView,
  alarms: alarmsView,
  settled: settledView,
  laterWorth: laterWorthView,
  conversions: conversionsView,
}

/** What a worker reads without the evidence: it does not wait until that is gathered. */
export const readings = {
  parameterArrivals: (_: null, now: number, { database, workspace }: WorkspaceRecords) =>
    gatherArrivals(database, workspace, now),
}
export type Views = typeof views & typeof readings
export type ViewName = keyof Views
