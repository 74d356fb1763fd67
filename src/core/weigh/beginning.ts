import type { Day } from '../shared/days'

/** What a workspace holds, as far as it decides what comes next. */
export interface Held {
  /** whether somebody has said how the business counts */
  settled: boolean
  orders: { count: number; first: Day; last: Day } | null
  /** the networks that are described */
  networks: readonly string[]
  /** the networks that reported what they spent, each with the last day of which it did, and the last day of all */
  spend: { networks: readonly { network: string; last: Day }[]; last: Day } | null
  /** the networks that claim anything */
  claiming: readonly string[]
  /** ads whose address is known */
  links: number
  clicks: number
  events: number
  /** orders that carry the parameters of an ad: by them alone they can be tagged and estimated */
  named: number
}

/** The way from nothing to the first number, in its order. None of it is compulsory. */
export const beginning = ['settle', 'orders', 'networks', 'reports', 'claims', 'links', 'tag'] as const
export type BeginStep = (typeof beginning)[number]

const isDone: Record<BeginStep, (held: Held) => boolean> = {
  settle: held => held.settled,
  orders: held => held.orders !== null,
  networks: held => held.networks.length > 0,
  reports: held => held.spend !== null,
  claims: held => held.claiming.length > 0,
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
  if (isBehind(held.spend.last, held.orders)) return 'later_reports'
  return (['claims', 'tag', 'links', 'networks', 'settle'] as const).find(step => !isDone[step](held)) ?? null
}

/** Whether a report ends before the orders do: those of the days after look as if they had cost nothing. */
const isBehind = (last: Day, orders: Held['orders']): boolean => orders !== null && last < orders.last - 1

/** What figures a cost per result comes from, and what each cannot do without. */
const needs = {
  cost: ['orders', 'reports'],
  proven: ['orders', 'tag'],
  tagged: ['orders', 'links'],
  estimated: ['orders', 'claims', 'tag'],
  gap: ['orders', 'claims'],
  line: ['orders', 'settle'],
} as const satisfies Record<string, readonly BeginStep[]>
export type BegunFigure = keyof typeof needs
export const begunFigures = Object.keys(needs) as BegunFigure[]

/** Something that a figure lacks: a step that is not done, or what only some networks have given. */
export type Lack =
  | { step: BeginStep }
  | { step: 'reports'; networks: readonly string[]; after: Day }
  | { step: 'reports' | 'claims'; networks: readonly string[] }

/** What each figure still lacks; nothing where it rests on all that it can. */
export function lacksOf(held: Held): { figure: BegunFigure; lacks: Lack[] }[] {
  const { spend, orders, claiming, networks } = held
  const spent = spend?.networks.map(one => one.network) ?? []
  const behind = (spend?.networks ?? []).filter(({ last }) => isBehind(last, orders))
  const partly: Record<'reports' | 'claims', Lack[]> = { reports: [], claims: [] }
  const without = networks.filter(network => !spent.includes(network))
  if (without.length > 0) partly.reports.push({ step: 'reports', networks: without })
  if (behind.length > 0)
    partly.reports.push({
      step: 'reports',
      networks: behind.map(one => one.network),
      after: Math.min(...behind.map(one => one.last)),
    })
  // A place of one's own claims nothing.
  const silent = networks.filter(network => spent.includes(network) && !claiming.includes(network))
  if (silent.length > 0) partly.claims.push({ step: 'claims', networks: silent })
  // What a landing page says of an order stands in for its click, and for a list of where ads lead.
  const isNamedInstead = (figure: BegunFigure, step: BeginStep) =>
    held.named > 0 &&
    ((figure === 'tagged' && step === 'links') || (figure === 'estimated' && step === 'tag'))
  return begunFigures.map(figure => ({
    figure,
    lacks: needs[figure].flatMap((step): Lack[] =>
      !isDone[step](held) && !isNamedInstead(figure, step)
        ? [{ step }]
        : step === 'reports' || step === 'claims'
          ? partly[step]
          : [],
    ),
  }))
}
