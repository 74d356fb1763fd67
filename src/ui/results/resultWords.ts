import type { CreditRule } from '@/core/intake/settings'
import type { LeftOut, ResultDefinition, resultKinds, ValueRule } from '@/core/signals/result'
import type { Formats } from '../format'

export const kindWords: Record<(typeof resultKinds)[number], string> = {
  order: 'order',
  subscription: 'subscription',
  lead: 'lead',
  sign_up: 'sign-up',
  call: 'phone call',
  download: 'download',
  visit: 'visit of a page',
  other: 'something else',
}

export const valueWords: Record<ValueRule['by'], string> = {
  fixed: 'always the same',
  event: 'what the event or order says',
  less_fee: 'the same, less a fee',
  lifetime: 'price × periods a customer stays',
}

export const creditWords: Record<CreditRule, string> = {
  last_click: 'last click',
  first_click: 'first click',
  even: 'shared evenly',
  time_decay: 'more to the later clicks',
}

/** What a result is worth, in a few words. */
export function worthWords({ value, currency }: ResultDefinition, { money }: Formats): string {
  const amount = (units: number) => `${money(units, currency)} ${currency}`
  switch (value.by) {
    case 'fixed':
      return value.measured
        ? `${amount(value.amount)} (${money(value.measured.low, currency)}–${money(value.measured.high, currency)}), as they later bought`
        : amount(value.amount)
    case 'event':
      return 'as the order says'
    case 'less_fee':
      return `${amount(value.amount)} less ${amount(value.fee)}`
    case 'lifetime':
      return `${amount(value.price)} × ${value.periods / 100}`
  }
}

export const leftOutWords: Record<LeftOut, string> = {
  same_transaction: 'the same transaction again',
  in_its_lead: 'already counted in the value of the lead it came from',
  once_per_click: 'again from the same click or visitor',
  below_minimum: 'worth less than the minimum',
  not_for_it: 'by none of the networks and campaigns that it is for',
  no_value: 'without a value',
  does_not_count: 'cancelled, refunded or a test at the shop',
  unconfirmed: 'told by a browser, not confirmed by the shop',
}
