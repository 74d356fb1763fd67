import { append } from '@/core/shared/append'
import { DAY_MS, formatDay, parseDay } from '@/core/shared/days'
import {
  type BrowserResult,
  type Crowd,
  limitDay,
  noDays,
  type UsualDays,
  unusual,
  unusualReasons,
} from '@/core/signals/limits'
import {
  clicksApart,
  clicksByClass,
  daysAndValues,
  mostAlike,
  moveApart,
  pagesByClass,
  toldSince,
} from '@/data/apart'
import type { Database } from '@/data/connect'

/** Results may come in so late; they are judged by the day on which they came about. */
const OPEN_DAYS = 3
/** So many days before say what is usual. */
const USUAL_DAYS = 28
const UNVISITED_DAYS = 7

/** What `grouping` of `mostAlike` says: the bit of what the rows have in common is not set. */
const crowdOf: Record<number, Crowd> = {
  15: 'many_of_click',
  23: 'many_of_class',
  27: 'many_in_minute',
  29: 'many_of_agent',
  30: 'many_of_page',
}

const usualKept = new Map<string, Map<string, UsualDays>>()

/** What the days before one were like, by result; read once a day. */
async function usualBefore(
  database: Database,
  workspace: string,
  before: string,
): Promise<Map<string, UsualDays>> {
  const key = `${workspace} ${before}`
  const known = usualKept.get(key)
  if (known) return known
  const ago = (days: number) => formatDay((parseDay(before) ?? 0) - days)
  const usual = new Map<string, UsualDays>()
  for (const { result, days, valued, top } of await daysAndValues(
    database,
    workspace,
    ago(USUAL_DAYS),
    before,
  ))
    usual.set(result, { ...noDays, most: { ...noDays.most }, days, valued, topValue: top ?? 0 })
  for (const { result, what, most } of await mostAlike(database, workspace, ago(USUAL_DAYS), before))
    usual.get(result)!.most[crowdOf[what]!] = most
  const unvisited = new Map<string, number>()
  for (const { result, at, visited } of await toldSince(database, workspace, ago(UNVISITED_DAYS), []))
    if (!visited && limitDay(at) < (parseDay(before) ?? 0))
      unvisited.set(`${limitDay(at)} ${result}`, (unvisited.get(`${limitDay(at)} ${result}`) ?? 0) + 1)
  for (const [day, count] of unvisited) {
    const own = usual.get(day.slice(day.indexOf(' ') + 1))
    if (own) own.unvisited = Math.max(own.unvisited, count)
  }
  usualKept.clear()
  usualKept.set(key, usual)
  return usual
}

/**
 * Keeps apart what browsers told of late that lies outside what is usual, and counts again what does not any more.
 *
 * @returns how many results were moved
 */
export async function watchResults(database: Database, workspace: string, now: number): Promise<number> {
  const from = formatDay(limitDay(now) - OPEN_DAYS)
  const told = await toldSince(database, workspace, from, unusualReasons)
  if (told.length === 0) return 0
  const usual = await usualBefore(database, workspace, from)
  const pages = new Map<number, Map<string, number>>()
  for (const { day, sender, pages: count } of await pagesByClass(database, workspace, from))
    pages.set(day, (pages.get(day) ?? new Map<string, number>()).set(sender, count))
  const days = new Map<string, BrowserResult[]>()
  for (const row of told) {
    const { sender, agent, ...own } = row
    append(days, `${limitDay(row.at)} ${row.result}`, { ...own, from: sender ?? '', agent: agent ?? '' })
  }
  const apart = new Map<string, string>()
  for (const some of days.values()) {
    const [{ at, result }] = some as [BrowserResult]
    const found = unusual(some, usual.get(result) ?? noDays, pages.get(limitDay(at)) ?? new Map())
    for (const [id, reason] of found) apart.set(id, reason)
  }
  const moved = told.flatMap(({ id, apart: was }) => {
    const reason = apart.get(id) ?? null
    return reason === was ? [] : [{ id, reason }]
  })
  if (moved.length > 0)
    await database.transaction(transaction => moveApart(transaction, workspace, from, moved))
  return moved.length
}

/** Clicks of one class of senders on a day that are no crowd yet. */
const LEAST_CLICKS = 60
/** Where a site has our tag, so many of its clicks are followed by an event; of a flood hardly any is. */
const FOLLOWED = 0.4
const UNFOLLOWED = 0.1

/** Keeps floods of clicks apart that nobody followed onto the site. Gives how many classes of senders sent one. */
export async function watchClicks(database: Database, workspace: string, now: number): Promise<number> {
  const from = formatDay(limitDay(now - DAY_MS))
  const classes = await clicksByClass(database, workspace, from)
  const floods = classes.filter(({ day, sender, clicks, followed }) => {
    if (sender === '' || clicks < LEAST_CLICKS || followed > UNFOLLOWED * clicks) return false
    const others = classes.filter(one => one.day === day && one.sender !== sender)
    const sum = (of: 'clicks' | 'followed') => others.reduce((all, one) => all + one[of], 0)
    return sum('clicks') >= LEAST_CLICKS / 2 && sum('followed') >= FOLLOWED * sum('clicks')
  })
  if (floods.length > 0)
    await database.transaction(transaction =>
      clicksApart(
        transaction,
        workspace,
        floods.map(({ day, sender }) => ({ day, sender, reason: 'not_followed' })),
      ),
    )
  return floods.length
}

const EVERY_MS = 5000
/** At most one part in so many of the time goes into watching, as long as that is once a minute. */
const SHARE = 8
const LATEST_MS = 60_000

/** Watches what comes in, now and then; to be told whether anything came. */
export function watcher(database: Database, workspace: string): (came: boolean) => Promise<void> {
  let due = 0
  let waits = true
  return async came => {
    waits ||= came
    const began = performance.now()
    if (!waits || began < due) return
    waits = false
    await watchResults(database, workspace, Date.now())
    await watchClicks(database, workspace, Date.now())
    due = performance.now() + Math.min(LATEST_MS, Math.max(EVERY_MS, SHARE * (performance.now() - began)))
  }
}
