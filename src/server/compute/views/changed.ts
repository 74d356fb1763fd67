import { nameOf } from '@/core/intake/tree'
import type { Period } from '@/core/shared/days'
import { changesIn, compare, compareEach, costsByDay } from '@/core/weigh/compare'
import type { Evidence } from '@/core/weigh/evidence'
import { standsOn } from '@/core/weigh/standsOn'
import type { Question } from './judged'

/** What changed between two periods: of the whole, by day from the first to the last of both, by network and campaign. */
export function changedView(e: Evidence, { period, first, scope }: Question & { first: Period }) {
  const { tree } = e.data
  const days = { from: Math.min(first.from, period.from), to: Math.max(first.to, period.to) }
  return {
    whole: compare(e, scope, first, period),
    standsOn: standsOn(e, scope, first, period),
    days: costsByDay(e, scope, days),
    parts: compareEach(e, scope, first, period).map(({ network, campaign, of }) => ({
      network,
      campaign,
      name: campaign ? nameOf(tree, network, 'campaign', campaign) : '',
      of,
    })),
  }
}
export type ChangedView = ReturnType<typeof changedView>

/** The days on which capture or the real cost changed, of all days that are asked for. */
export const turnsView = (e: Evidence, { period, scope }: Question) => changesIn(e, scope, period)
export type Turn = ReturnType<typeof turnsView>[number]
