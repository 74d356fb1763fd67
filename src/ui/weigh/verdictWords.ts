import { currencyExponent } from '@/core/shared/money'
import type { Doubt } from '@/core/weigh/doubts'
import { costOf, isNone, ratio } from '@/core/weigh/figures'
import type { PlainRule } from '@/core/weigh/plainRules'
import type { JudgedRow } from '@/core/weigh/rows'
import { isOfClicks } from '@/core/weigh/segments'
import type { Tiring, TiringIn } from '@/core/weigh/tiring'
import type { VerdictKind } from '@/core/weigh/verdict'
import type { Formats } from '../format'

export const verdictWords: Record<VerdictKind, string> = {
  cut: 'cut',
  hold: 'hold',
  raise: 'raise',
  wait: 'wait',
}

/** A probability in whole percent; never a certainty. */
export const likely = (probability: number): string =>
  `${Math.min(99, Math.max(1, Math.round(probability * 100)))} %`

/** A plain rule in words. */
export function ruleWords(rule: PlainRule, { count, money, currency }: Formats, minorUnits: number): string {
  switch (rule.when) {
    case 'no_result':
      return `no result after ${rule.lines} × its line`
    case 'over_line':
      return `at least ${count(rule.results)} results, each at ${rule.times} × its line or more`
    case 'few_impressions':
      return `wait for ${count(rule.impressions)} impressions, unless it has a result`
    case 'little_spend':
      return `wait for ${money(Math.round(rule.spend * minorUnits))} ${currency} of spend, unless it has a result`
  }
}

type JudgedFigures = Pick<JudgedRow, 'path' | 'sums' | 'line' | 'leaves' | 'verdict' | 'byResult' | 'restsOn'>

/** What several results brought, in one sentence; null for a row whose verdict rests on one. */
function severalSentence(
  { sums, leaves, byResult, restsOn }: JudgedFigures,
  { money, percent, ratioText }: Formats,
  nameOf: (result: string) => string,
): string | null {
  const results = restsOn?.results ?? byResult ?? []
  const value = restsOn?.sums.estimatedValue ?? sums.estimatedValue
  if (results.length < (restsOn ? 1 : 2) || sums.spend <= 0 || value <= 0)
    return restsOn && sums.spend > 0 ? `${money(sums.spend)} spent, no results of any kind yet` : null
  const parts = results.map(one => `${nameOf(one.result)} ${percent(one.value / value)}`).join(', ')
  const breakEven = ratio(value, leaves)
  return `${money(sums.spend)} spent for results worth ${money(value)} (${parts}): ROAS ${ratioText(value / sums.spend)}${breakEven === null ? '' : `, break-even ${ratioText(breakEven)}`}`
}

/** What a verdict says, in a sentence or two of the row's own figures; amounts in the workspace's currency. */
export function verdictSentence(
  row: JudgedFigures,
  formats: Formats,
  words: (text: string) => string,
  nameOf: (result: string) => string,
): string {
  const { money, tenths } = formats
  const { sums, line, verdict } = row
  const { probability, needed, because } = verdict
  const results = sums.estimatedTenths / 10
  const cost = costOf(sums, results)
  if (because === 'held_by_rule') return `${money(sums.spend)} spent: too little to judge, by your rule.`
  if (because === 'no_spend' && isOfClicks(row.path))
    return 'No report says what was spent on it, so there is no cost to judge.'
  if (because === 'no_spend')
    return !isNone(results)
      ? words(`Nothing was billed for its ${tenths(results)} orders, so there is no cost to judge.`)
      : 'Nothing was spent.'
  if (because === 'no_margin') return 'Set your margin to get a verdict: without it, break-even is unknown.'
  if (line === null || probability === null)
    return words('The value of an order is not known yet, so there is no break-even to judge by.')
  const more = needed === null ? '' : ` Needs about ${money(needed)} more spend to tell.`
  const chance = `${likely(probability)} likely to pay back.`
  const by = because === 'cut_by_rule' ? ' By your rule.' : ''
  const several = severalSentence(row, formats, nameOf)
  if (several)
    return verdict.kind === 'wait'
      ? `${several}: too little to tell.${more}`
      : `${several}. ${chance}${by}${more}`
  if (isNone(results)) {
    const byNow = 1 - Math.exp(-sums.spend / line)
    const said = words(
      `${money(sums.spend)} spent, no orders yet. At its break-even of ${money(line)} the chance of one by now was ${likely(byNow)}.`,
    )
    return `${said}${by}${more}`
  }
  const each = words(`${money(sums.spend)} for ${tenths(results)} orders, ${money(cost)} each`)
  if (verdict.kind === 'raise') return `${each}, below its break-even of ${money(line)}. ${chance}`
  if (verdict.kind === 'wait') return `${each}. Its break-even is ${money(line)}: too little to tell.${more}`
  return `${each}. Its break-even is ${money(line)}. ${chance}${by}${more}`
}

/** The same in a few words, where the figures stand beside it. */
export function shortSentence(
  { path, sums, line, verdict, restsOn }: JudgedFigures,
  { count, currency }: Formats,
  words: (text: string) => string,
): string {
  const { kind, probability, needed, because } = verdict
  if (because === 'held_by_rule') return 'too little to judge, by your rule'
  if (because === 'no_spend') return isOfClicks(path) ? 'spend not reported' : 'nothing was billed'
  if (because === 'no_margin') return 'set your margin first'
  if (line === null || probability === null) return words('the value of an order is not known')
  if (because === 'cut_by_rule') return 'by your rule'
  const more =
    needed === null
      ? null
      : `needs ${count(Math.ceil(needed / 10 ** (currencyExponent(currency) ?? 2)))} more spend to tell`
  if ((kind === 'wait' || kind === 'hold') && more) return more
  if (isNone(sums.estimatedTenths / 10) && !restsOn)
    return words(`no orders yet; ${likely(1 - Math.exp(-sums.spend / line))} chance of one by now`)
  return `${likely(probability)} likely to pay back`
}

/** What a doubt is called in a cell, and what it means. */
export const doubtWords: Record<Doubt, { short: string; means: string }> = {
  lost_tracking: {
    short: 'tracking?',
    means:
      'It rests on lost tracking: its network sees much less than before, or much of what it brought was seen by nobody. Look at What changed before you change its budget.',
  },
  lost_clicks: {
    short: 'lost clicks',
    means: 'Clicks of it are billed and never arrive: mend its link before you judge it.',
  },
  learning: {
    short: 'learning',
    means: 'It is so new that its network is still learning whom to show it to: its first days say little.',
  },
  not_reported: {
    short: 'late report',
    means: 'Its network has not told yet what it spent on the last days: these are left out of its figures.',
  },
  one_large_order: {
    short: 'one order',
    means: 'One large order is most of what it brought: without that it would look otherwise.',
  },
}

const tiringWords: Record<TiringIn, string> = {
  click_rate: 'clicks for each impression',
  result_rate: 'results for each click',
  cost: 'results for what is spent',
}
export const tiringSentence = ({ in: of, left, chance }: Tiring, { percent }: Formats): string =>
  `It tires: ${tiringWords[of]} fell to ${percent(left)} of what they were; chance alone would do so less than ${
    chance < 0.001 ? 'once in 1,000' : `${Math.max(1, Math.round(chance * 1000))} times in 1,000`
  }.`
