import type { Day } from '../shared/days'

/** What a workspace holds, as far as it decides what comes next. */
export interface Held {
  /** whether somebody has said how the business counts */
  settled: boolean
  orders: { count: number; first: Day; last: Day } | null
  /** the networks that are described */
  networks: readonly string[]
  /** the networks that reported what they spent, and the last day of which one did */
  spend: { networks: readonly string[]; last: Day } | null
  claims: number
  /** ads whose address is known */
  links: number
  clicks: number
  events: number
}

/** The way from nothing to the first number, in its order. None of it is compulsory. */
export const beginning = ['settle', 'orders', 'networks', 'reports', 'claims', 'links', 'tag'] as const
export type BeginStep = (typeof beginning)[number]

const isDone: Record<BeginStep, (held: Held) => boolean> = {
  settle: held => held.settled,
  orders: held => held.orders !== null,
  networks: held => held.networks.length > 0,
  reports: held => held.spend !== null,
  claims: held => held.claims > 0,
  links: held => held.links > 0,
  tag: held => held.clicks > 0 && held.events > 0,
}

export const stepsOf = (held: Held): { step: BeginStep; done: boolean }[] =>
  beginning.map(step => ({ step, done: isDone[step](held) }))

/**
 * The one step that would better the first number most: what a cost cannot do without, then what is behind it, then
 * what makes it surer. Null where nothing is missing.
 */
export function bettersMost(held: Held): BeginStep | 'later_reports' | null {
  if (!held.orders) return 'orders'
  if (!held.spend) return held.networks.length > 0 ? 'reports' : 'networks'
  if (held.spend.last < held.orders.last - 1) return 'later_reports'
  return (['claims', 'tag', 'links', 'networks', 'settle'] as const).find(step => !isDone[step](held)) ?? null
}
