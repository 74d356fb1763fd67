import { append } from '../shared/append'
import { DAY_MS } from '../shared/days'

/** Why what browsers told is kept apart until somebody decides: it lies outside what the days before were like. */
export const unusualReasons = [
  'value_unseen',
  'no_visit',
  'many_of_click',
  'many_of_class',
  'many_in_minute',
  'many_of_agent',
  'many_of_page',
] as const
export type Unusual = (typeof unusualReasons)[number]
/** A reason that is a number of results with something in common. */
export type Crowd = Exclude<Unusual, 'value_unseen' | 'no_visit'>

/** A result that a browser told, with what it may be judged by. */
export interface BrowserResult {
  id: string
  /** the result's ID */
  result: string
  /** epoch ms */
  at: number
  /** the class of its sender's address, a keyed hash; empty where that says nothing */
  from: string
  agent: string
  page: string | null
  click: string | null
  /** a decimal */
  value: string | null
  /** whether its browser, or one of its class and agent, opened a page before */
  visited: boolean
  /** whether somebody said that it counts */
  decided: boolean
}

/** What the days before were like for one result. */
export interface UsualDays {
  /** on how many days it was told */
  days: number
  /** the most results of a day that had a sender's class, a click … in common */
  most: Record<Crowd, number>
  /** the most of a day whose browser had opened no page before */
  unvisited: number
  /** how many said a value, and the greatest */
  valued: number
  topValue: number
}
export const noDays: UsualDays = {
  days: 0,
  most: { many_of_click: 0, many_of_class: 0, many_in_minute: 0, many_of_agent: 0, many_of_page: 0 },
  unvisited: 0,
  valued: 0,
  topValue: 0,
}

/** The day (UTC) by which results are counted. */
export const limitDay = (at: number): number => Math.floor(at / DAY_MS)
export const pathOf = (page: string | null): string => page?.split(/[?#]/, 1)[0] ?? ''

/** What results have in common, and how many of a day are nothing unusual whatever the days before were like. */
const crowds: Record<Crowd, { keyOf: (one: BrowserResult) => string; least: number; learned: boolean }> = {
  many_of_click: { keyOf: r => r.click ?? '', least: 4, learned: false },
  many_of_class: { keyOf: r => r.from, least: 12, learned: false },
  many_in_minute: { keyOf: r => String(Math.floor(r.at / 60_000)), least: 30, learned: true },
  many_of_agent: { keyOf: r => r.agent, least: 200, learned: true },
  many_of_page: { keyOf: r => pathOf(r.page), least: 500, learned: true },
}

/** So much more than on any day before is unusual. */
const MORE = 3
/** From so many days on, the days before say what is usual of whole pages and browsers. */
const LEARNED_DAYS = 7
/** Of a class whose results are fewer than one of so many pages that it opened, a crowd is nothing unusual. */
const PAGES_EACH = 3
const LEAST_UNVISITED = 3
const LEAST_VALUED = 20

/**
 * Which of a day's results lie outside what is usual, each with why. Of a crowd all are: which of them are made up
 * nobody can say. What somebody decided to count is inside, and counts for no crowd.
 *
 * @param told of one result and day
 * @param pages how many pages each class of senders opened that day
 */
export function unusual(
  told: readonly BrowserResult[],
  usual: UsualDays,
  pages: ReadonlyMap<string, number>,
): Map<string, Unusual> {
  const open = told.filter(one => !one.decided)
  const found = new Map<string, Unusual>()
  const set = (some: readonly BrowserResult[], reason: Unusual) => {
    for (const { id } of some) if (!found.has(id)) found.set(id, reason)
  }
  if (usual.valued >= LEAST_VALUED)
    set(
      open.filter(one => one.value !== null && Number(one.value) > MORE * usual.topValue),
      'value_unseen',
    )
  const unvisited = open.filter(one => !one.visited)
  if (unvisited.length > Math.max(LEAST_UNVISITED, MORE * usual.unvisited)) set(unvisited, 'no_visit')
  for (const [crowd, { keyOf, least, learned }] of Object.entries(crowds) as [
    Crowd,
    (typeof crowds)[Crowd],
  ][]) {
    if (learned && usual.days < LEARNED_DAYS) continue
    const byKey = new Map<string, BrowserResult[]>()
    // What is apart already makes no crowd of what is left.
    for (const one of open) if (!found.has(one.id) && keyOf(one) !== '') append(byKey, keyOf(one), one)
    for (const [key, some] of byKey) {
      if (some.length <= Math.max(least, MORE * usual.most[crowd])) continue
      if (crowd === 'many_of_class' && some.length * PAGES_EACH < (pages.get(key) ?? 0)) continue
      set(some, crowd)
    }
  }
  return found
}
