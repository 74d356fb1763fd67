import type { ChangeKind } from '@/core/shared/changeKind'

/** Something that somebody changed on a day. */
export interface ChangeMark {
  /** `YYYY-MM-DD` */
  day: string
  what: ChangeKind
  /** its name, or which setting */
  about: string
}

/** A setting that changed, in words. */
const settingWords: Record<string, string> = {
  currency: 'the currency',
  time_zone: 'the zone of days',
  order_value: 'what an order is worth',
  margin: 'the margin',
  fee: 'what every order costs besides',
  product_groups: 'margins by group of products',
  target_cost: 'the target',
  campaign_rules: 'margins and targets of campaigns',
  verdicts: 'when to cut and raise',
  credit: 'the credit rule',
  click_window_days: 'how long a click counts',
  view_window_days: 'how long a view counts',
}

export const markWords = ({ what, about }: ChangeMark, networkName: (id: string) => string): string =>
  ({
    settings: settingWords[about] ?? about,
    result: `the result ${about}`,
    rule: `a rule of ${about}`,
    plan: `links at ${networkName(about)}`,
    move: `budgets at ${networkName(about)}`,
    network: `how ${networkName(about)} is told or counts`,
  })[what]
