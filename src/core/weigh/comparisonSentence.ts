import { type Day, formatDay } from '../shared/days'
import { formatAmount } from '../shared/money'
import type { Comparison } from './compare'

/** How amounts and days are written. */
export interface Hand {
  /** minor units, with their currency */
  amount: (minor: number) => string
  day: (day: Day) => string
}
export const plainHand = (currency: string): Hand => ({
  amount: minor => `${formatAmount(Math.round(minor), currency)} ${currency}`,
  day: formatDay,
})

/** What changed between two periods, in words: which part of it is tracking and which is real. */
export function comparisonSentence(comparison: Comparison, { amount, day }: Hand): string {
  const { first, second, logChange, parts, real, changeDays } = comparison
  const signed = (minor: number) => `${minor < 0 ? '−' : '+'}${amount(Math.abs(minor))}`
  const changed = (of: 'capture' | 'real_cost') => {
    const found = changeDays.find(change => change.of === of)
    if (!found) return ''
    const within = found.from === found.to ? '' : ` (${day(found.from)} to ${day(found.to)})`
    return ` on ${day(found.day)}${within}`
  }
  const said: string[] = []
  if (logChange === null) said.push(missing(comparison, day))
  else {
    const more = second.costPerClaim! - first.costPerClaim!
    const { share, log } = parts.find(({ part }) => part === 'capture')!
    const percents = [first.capture!, second.capture!].map(capture => `${Math.round(capture * 100)} %`)
    said.push(
      `Of ${signed(more)} a claimed result, ${share === null ? 'nothing' : signed(more * share)} is tracking: claims per order ${
        log === 0 ? `stayed at ${percents[0]}` : `${log! > 0 ? 'fell' : 'rose'} from ${percents.join(' to ')}`
      }${changed('capture')}.`,
    )
  }
  if (real.log !== null) {
    const more = second.costPerResult! - first.costPerResult!
    const byChance = real.low! <= 0 && real.high! >= 0
    said.push(
      `The real cost ${more < 0 ? 'fell' : 'rose'} by ${amount(Math.abs(more))} to ${amount(second.costPerResult!)}, which is ${
        byChance ? 'within' : 'beyond'
      } chance${changed('real_cost')}.`,
    )
  }
  return said.join(' ')
}

/** Why a change cannot be told. */
function missing({ first, second }: Comparison, day: Hand['day']): string {
  const none = (['spend', 'impressions', 'clicks', 'estimated', 'claimed'] as const).flatMap(key =>
    [first, second]
      .filter(side => !(side[key] > 0))
      .map(side => `no ${words[key]} from ${day(side.period.from)} to ${day(side.period.to)}`),
  )
  return `What changed cannot be told: there ${none.length === 1 ? 'is' : 'are'} ${none.join(', ')}.`
}

const words = {
  spend: 'spend',
  impressions: 'impressions',
  clicks: 'clicks',
  estimated: 'results',
  claimed: 'claims',
}
