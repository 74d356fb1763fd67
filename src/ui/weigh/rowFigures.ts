import { WHOLE } from '@/core/evidence/place'
import { costOf, ratio } from '@/core/weigh/figures'
import type { JudgedRow } from '@/core/weigh/rows'
import { isUnsaid } from '@/core/weigh/segments'
import { partTitle } from './segmentWords'

/** What a row is called. */
export const titleOf = (row: JudgedRow): string =>
  row.level === 'part' ? (partTitle(row.path[0], row.id) ?? 'not named so') : row.name || 'not broken down'

/** What a row spent on each of some results; nothing is known of it where its spend is that of other rows as well. */
export const costIn = ({ path, sums }: Pick<JudgedRow, 'path' | 'sums'>, results: number): number | null =>
  isUnsaid(path) ? null : costOf(sums, results)
export const roasIn = ({ path, sums }: Pick<JudgedRow, 'path' | 'sums'>, value: number): number | null =>
  isUnsaid(path) ? null : ratio(value, sums.spend)

export const tracked = ({ sums }: Pick<JudgedRow, 'sums'>): number =>
  (sums.provenCredit + sums.taggedCredit) / WHOLE
export const estimated = ({ sums }: Pick<JudgedRow, 'sums'>): number => sums.estimatedTenths / 10
export const claimedByClick = ({ sums }: Pick<JudgedRow, 'sums'>): number => sums.claimed - sums.claimedByView
/** What all results of its ads are worth: of one alone where they bring no other. */
export const valueOfAll = ({ sums, restsOn }: Pick<JudgedRow, 'sums' | 'restsOn'>): number =>
  restsOn?.sums.estimatedValue ?? sums.estimatedValue
