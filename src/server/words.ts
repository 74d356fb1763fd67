import type { RejectReason } from '@/core/intake/fields'

/** What to tell a person about a rejected row: what is wrong and what to do. */
export const rejectWords: Record<RejectReason, string> = {
  required: 'is empty but needed',
  not_a_date: 'is no date; write YYYY-MM-DD',
  other_date_order: 'is a date only in another order of day and month: choose how dates are written, above',
  not_an_instant: 'is no instant with zone; write ISO 8601, such as 2026-10-05T14:30:00Z',
  not_a_count: 'is no whole number of 0 or more',
  not_a_currency: 'is no currency code; write three letters, such as EUR',
  not_an_amount: 'is no amount; write a decimal such as 149.00, no finer than the currency',
  too_large_an_amount:
    'is larger than any amount that can be counted exactly (about 90 trillion); check the column',
  negative_amount: 'is below zero; refunds have a column of their own',
  not_a_rate: 'is no exchange rate above zero',
  not_a_web_address: 'is no web address: write it whole, with https://',
  unknown_status: 'is none of paid, refunded, partially_refunded, cancelled, test',
  unknown_kind: 'is neither click nor view',
  no_rate: 'has no exchange rate of that day or the 7 days before; add it to rates.csv',
  too_long: 'is longer than 4,096 characters',
  extra_cells: 'the row has more cells than the header; quote values that hold a comma',
  missing_cells: 'the row has fewer cells than the header',
  ends_before_it_begins: 'ends before it begins: exchange the two days',
  too_long_a_stretch: 'is more than a year after its first day: export shorter stretches',
  no_such_order: 'is an order that is not held: take the orders in first, then this file again',
  bad_quotes: 'has a quotation mark that is not closed',
}

/** The same of a file of any columns, where what can be done about it stands above its rows. */
export const tableRejectWords: Record<RejectReason, string> = {
  ...rejectWords,
  not_a_date: 'is no day that can be read: check “Days are” above',
  not_an_instant: 'is no day that can be read: check “Days are” above',
  not_an_amount: 'is no amount that can be read: check “Fractions after” above',
  not_a_count: 'is no count of 0 or more: check which column it is',
  negative_amount: 'is below zero: check whether it is what went back',
  unknown_status: 'is a status that nobody explained: say above what it means',
  no_rate: 'has no exchange rate of that day or the 7 days before: enter one above, or import rates.csv',
  extra_cells: 'has more cells than there are headings',
  missing_cells: 'has fewer cells than there are headings',
}

/** Rejected rows of such a file, each with what to tell of it. */
export const inWords = <Row extends { reason: RejectReason }>(rows: readonly Row[]) =>
  rows.map(row => ({ ...row, words: tableRejectWords[row.reason] }))
