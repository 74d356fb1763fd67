/**
 * `npm run accuracy [-- NAME…]`: estimates and verdicts against the truth of made-up markets, one JSON line each.
 * Without names all are tried, and the tables of `docs/accuracy.md` written anew.
 */
import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { type FollowingScore, scoreFollowing } from './following'
import type { MarketPlan } from './market'
import { type Score, scoreMarkets } from './score'
import { scoreVerdicts, type VerdictScore } from './verdicts'

/** How far off the median ad may be, and the least and greatest share of ranges that hold. */
interface Wanted {
  plan: Partial<MarketPlan>
  most: number
  cover?: [number, number]
}
const markets: Record<string, Wanted> = {
  rows: { plan: {}, most: 0.045 },
  sums: { plan: { reports: 'sums' }, most: 0.055 },
  both: { plan: { reports: 'both' }, most: 0.055 },
  few_prices: { plan: { reports: 'sums', prices: 'few' }, most: 0.055 },
  one_price: { plan: { reports: 'sums', prices: 'one' }, most: 0.065 },
  opt_outs: { plan: { reports: 'sums', optOuts: 1.7 }, most: 0.065 },
  fourfold_rows: { plan: { volume: 4 }, most: 0.026 },
  fourfold_sums: { plan: { reports: 'sums', volume: 4 }, most: 0.032 },
  drop_rows: { plan: { drop: 45 }, most: 0.045 },
  drop_sums: { plan: { reports: 'sums', drop: 45 }, most: 0.055 },
  offline: { plan: { reports: 'sums', offline: 8 }, most: 0.09, cover: [0.75, 1] },
  offline_said: { plan: { reports: 'sums', offline: 8, channels: true }, most: 0.055 },
  blocking: { plan: { reports: 'sums', blocking: 0.15 }, most: 0.09, cover: [0.75, 1] },
  silent_one: { plan: { reports: 'sums', silent: ['sedgewire'] }, most: 0.055 },
  silent_large: { plan: { reports: 'sums', silent: ['aldermoor'] }, most: 0.055 },
  late_rows: { plan: { claimsFrom: 38 }, most: 0.05 },
  late_sums: { plan: { reports: 'sums', claimsFrom: 38 }, most: 0.055 },
  late_export: { plan: { reports: 'sums', exportAlone: true, claimsFrom: 38 }, most: 0.085 },
  by_campaign: { plan: { reports: 'sums', sumsBy: 'campaign' }, most: 0.075 },
  in_parts: { plan: { reports: 'sums', sumsBy: 'parts' }, most: 0.075 },
  weekly_spend: { plan: { reports: 'sums', weekly: 'spend' }, most: 0.055 },
  weekly: { plan: { reports: 'sums', weekly: 'both' }, most: 0.075 },
  export_weekly: {
    plan: { reports: 'sums', exportAlone: true, weekly: 'both' },
    most: 0.11,
    cover: [0.65, 0.88],
  },
  export_by_campaign: { plan: { reports: 'sums', exportAlone: true, sumsBy: 'campaign' }, most: 0.11 },
  export: { plan: { reports: 'sums', exportAlone: true }, most: 0.085 },
  export_few: { plan: { reports: 'sums', exportAlone: true, prices: 'few' }, most: 0.11 },
  export_one: { plan: { reports: 'sums', exportAlone: true, prices: 'one' }, most: 0.11 },
  export_rows: { plan: { exportAlone: true }, most: 0.085 },
  export_opt_outs: { plan: { reports: 'sums', exportAlone: true, optOuts: 1.7 }, most: 0.11 },
  export_silent: { plan: { reports: 'sums', exportAlone: true, silent: ['sedgewire'] }, most: 0.11 },
  export_silent_large: { plan: { reports: 'sums', exportAlone: true, silent: ['aldermoor'] }, most: 0.11 },
}
/** A capture in the week after a drop may be off by this. */
const CAPTURE_OFF = 0.05
/** By weekly reports of spend, a campaign's cost in a month may lie so far from that by daily ones. */
const MONTH_OFF = 0.03
/** Verdicts by how networks report, over markets whose prices differ by campaign. */
const verdicts: Record<string, Partial<MarketPlan>> = {
  verdicts_rows: {},
  verdicts_sums: { reports: 'sums' },
}
/** Verdicts followed for a month, beside what people usually go by. */
const following: Record<string, Partial<MarketPlan>> = {
  following_rows: {},
  following_sums: { reports: 'sums' },
}
/** So many forecasts of moves are to hold. */
const HELD = [0.7, 0.9] as const
const FIRM_WRONG = 0.04
const SAID_OFF = 0.05

const tableHeads: Record<string, string> = {
  markets:
    '| market | off | wanted | limit | networks’ own claims | tracking alone | held | capture off | silent network’s ads: off, limit, held |\n|---|---|---|---|---|---|---|---|---|\n',
  following:
    '| market | verdicts | cut without an order in 3 days | cut over the line by claims | better than each, and than no change, of 30 | forecasts of ads held | of accounts |\n|---|---|---|---|---|---|---|\n',
  verdicts:
    '| market | said | came true | of a firm call wrong | firm calls | said → came true, by quarter |\n|---|---|---|---|---|---|\n',
}
const wanted = process.argv.slice(2)
const names = [...Object.keys(markets), ...Object.keys(verdicts), ...Object.keys(following)]
const unknown = wanted.filter(name => !names.includes(name))
if (unknown.length > 0) {
  console.error(`No market "${unknown[0]}". There are: ${names.join(', ')}.`)
  process.exit(2)
}
const asked = (name: string) => wanted.length === 0 || wanted.includes(name)
const tables = { markets: '', verdicts: '', following: '' }
let fails = false
for (const [name, { plan, most, cover: [least, greatest] = [0.75, 0.88] }] of Object.entries(markets)) {
  if (!asked(name)) continue
  const score = scoreMarkets(plan)
  const { median, cover, capture_off, month_off } = score
  const holds =
    (plan.weekly !== 'spend' || (month_off ?? 0) <= MONTH_OFF) &&
    median <= most &&
    cover >= least &&
    cover <= greatest &&
    (capture_off ?? 0) <= CAPTURE_OFF
  fails ||= !holds
  console.log(JSON.stringify({ market: name, ...score, at_most: most, holds }))
  tables.markets += marketLine(name, score, most)
}
for (const [name, plan] of Object.entries(verdicts)) {
  if (!asked(name)) continue
  const score = scoreVerdicts(plan)
  const holds = Math.abs(score.said - score.came_true) <= SAID_OFF && score.firm_wrong < FIRM_WRONG
  fails ||= !holds
  console.log(JSON.stringify({ market: name, ...score, holds }))
  tables.verdicts += verdictLine(name, score)
}
for (const [name, plan] of Object.entries(following)) {
  if (!asked(name)) continue
  const score = scoreFollowing(plan)
  const { forecasts } = score
  const isHeld = (share: number) => share >= HELD[0] && share <= HELD[1]
  const holds =
    score.verdicts > Math.max(1, score.no_order_in_3_days, score.over_by_claims) &&
    isHeld(forecasts.ads_held) &&
    isHeld(forecasts.accounts_held)
  fails ||= !holds
  console.log(JSON.stringify({ market: name, ...score, holds }))
  tables.following += followingLine(name, score)
}
if (wanted.length === 0) {
  const file = join(process.cwd(), 'docs', 'accuracy.md')
  const day = new Date().toISOString().slice(0, 10)
  const text = Object.entries({ ...tables, day: `Measured on ${day}.\n` }).reduce(
    (text, [part, lines]) =>
      text.replace(
        new RegExp(`(<!-- ${part} -->\n)[^]*?(<!-- /${part} -->)`),
        (_, start: string, end: string) => start + (tableHeads[part] ?? '') + lines + end,
      ),
    readFileSync(file, 'utf8'),
  )
  writeFileSync(file, text)
}
process.exitCode = fails ? 1 : 0

function marketLine(name: string, score: Score, most: number): string {
  const { median, oracle, claimed, tracked, cover, capture_off, silent } = score
  const ofSilent = silent
    ? `${silent.median.toFixed(3)}, ${silent.oracle.toFixed(3)}, ${silent.cover.toFixed(2)}`
    : ''
  const cells = [name, median.toFixed(3), most, oracle.toFixed(3), claimed.toFixed(2), tracked.toFixed(2)]
  return `| ${[...cells, cover.toFixed(2), capture_off?.toFixed(3) ?? '', ofSilent].join(' | ')} |\n`
}
function followingLine(name: string, score: FollowingScore): string {
  const { verdicts, no_order_in_3_days, over_by_claims, better_than, forecasts } = score
  const better = `${better_than.no_order_in_3_days}, ${better_than.over_by_claims}, ${better_than.no_change}`
  const cells = [name, ...[verdicts, no_order_in_3_days, over_by_claims].map(x => x.toFixed(3)), better]
  return `| ${[...cells, forecasts.ads_held.toFixed(2), forecasts.accounts_held.toFixed(2)].join(' | ')} |\n`
}
function verdictLine(name: string, { said, came_true, firm, firm_wrong, bands }: VerdictScore): string {
  const quarters = bands.map(band => `${band.said.toFixed(2)} → ${band.came_true.toFixed(2)}`).join(', ')
  const wrong = `${(100 * firm_wrong).toFixed(1)} %`
  return `| ${[name, said.toFixed(3), came_true.toFixed(3), wrong, firm, quarters].join(' | ')} |\n`
}
