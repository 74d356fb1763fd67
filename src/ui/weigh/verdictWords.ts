import { currencyExponent } from '@/core/shared/money'
import type { Doubt } from '@/core/weigh/doubts'
import { costOf, isNone } from '@/core/weigh/figures'
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

/** Out of ten or of a hundred, whichever says more; never a certainty. */
export function timesIn(probability: number): string {
  const hundredths = Math.min(99, Math.max(1, Math.round(probability * 100)))
  if (hundredths === 1) return 'once in 100'
  return hundredths % 10 === 0 ? `${hundredths / 10} times in 10` : `${hundredths} times in 100`
}

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

/** What a verdict says, in one sentence of the row's own figures; amounts in the workspace's currency. */
export function verdictSentence(
  row: Pick<JudgedRow, 'path' | 'sums' | 'line' | 'verdict'>,
  { money, tenths }: Formats,
  words: (text: string) => string,
): string {
  const { sums, line, verdict } = row
  const { probability, needed, because } = verdict
  const results = sums.estimatedTenths / 10
  const cost = costOf(sums, results)
  if (because === 'held_by_rule') return `${money(sums.spend)} spent: too little to look at, by your rule.`
  if (because === 'no_spend' && isOfClicks(row.path))
    return 'No report says what was spent on it, so there is no cost to judge.'
  if (because === 'no_spend')
    return !isNone(results)
      ? words(`Nothing was billed for its ${tenths(results)} orders, so there is no cost to judge.`)
      : 'Nothing was spent.'
  if (because === 'no_margin') return 'Set your margin to get a verdict: without it, break-even is unknown.'
  if (line === null || probability === null)
    return words('What an order of it is worth is not known yet: there is no line to judge by.')
  const more = needed === null ? '' : ` About ${money(needed)} more would tell.`
  const chance = timesIn(probability)
  const by = because === 'cut_by_rule' ? ' By your rule.' : ''
  if (isNone(results)) {
    const byNow = 1 - Math.exp(-sums.spend / line)
    const said = words(
      `${money(sums.spend)} spent, no order. At its line of ${money(line)} one would have come by now ${timesIn(byNow)}.`,
    )
    return `${said}${by}${more}`
  }
  const each = words(`${money(sums.spend)} for ${tenths(results)} orders, ${money(cost)} each`)
  if (verdict.kind === 'cut') return `${each}; its line is ${money(line)}. It pays for itself ${chance}.${by}`
  if (verdict.kind === 'raise')
    return `${each}, under its line of ${money(line)}. More pays for itself ${chance}.`
  if (verdict.kind === 'hold')
    return `${each}; its line is ${money(line)}. More pays for itself ${chance}: not sure enough to cut or raise.${more}`
  return `${each}, line ${money(line)}: too little to tell.${more}`
}

/** The same in a few words, where the figures stand beside it. */
export function shortSentence(
  { path, sums, line, verdict }: Pick<JudgedRow, 'path' | 'sums' | 'line' | 'verdict'>,
  { count, currency }: Formats,
  words: (text: string) => string,
): string {
  const { kind, probability, needed, because } = verdict
  if (because === 'held_by_rule') return 'too little to look at, by your rule'
  if (because === 'no_spend') return isOfClicks(path) ? 'spend not reported' : 'nothing was billed'
  if (because === 'no_margin') return 'set your margin first'
  if (line === null || probability === null) return words('what an order is worth is not known')
  if (because === 'cut_by_rule') return 'by your rule'
  const more =
    needed === null
      ? null
      : `${count(Math.ceil(needed / 10 ** (currencyExponent(currency) ?? 2)))} more would tell`
  if ((kind === 'wait' || kind === 'hold') && more) return more
  if (isNone(sums.estimatedTenths / 10))
    return words(`no order; one was due ${timesIn(1 - Math.exp(-sums.spend / line))}`)
  return `more pays: ${Math.min(99, Math.max(1, Math.round(probability * 100)))} in 100`
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
