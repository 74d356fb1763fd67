import * as z from 'zod'
import { currencyExponent } from '../../shared/money'
import { zone } from '../settings'
import { type Level, levels } from '../tree'
import { decimalMarks } from './cells'
import { dateOrders } from './moment'
import { covers } from './span'

/** What a column of a network's report can hold, each with what it says to a person. */
export const reportFields = {
  date: 'day',
  date_to: 'last day',
  campaign_id: 'campaign ID',
  campaign_name: 'campaign name',
  ad_set_id: 'ad set ID',
  ad_set_name: 'ad set name',
  ad_id: 'ad ID',
  ad_name: 'ad name',
  spend: 'spend',
  currency: 'currency',
  impressions: 'impressions',
  clicks: 'clicks',
  reach: 'people reached',
  click_through: 'conversions after a click',
  view_through: 'conversions after a view',
  value: 'value of conversions',
  conversion: 'name of the conversion',
  placement: 'placement',
  keyword: 'keyword',
  match_type: 'match type',
  source: 'source',
  device: 'device',
} as const
export type ReportField = keyof typeof reportFields
export const fieldNames = Object.keys(reportFields) as ReportField[]

/** The columns of one conversion: how many after a click and after a view, and their value. */
const conversionColumns = z.object({
  conversion: z.string().min(1).max(100),
  click_through: z.string().max(200).optional(),
  view_through: z.string().max(200).optional(),
  value: z.string().max(200).optional(),
})
export type ConversionColumns = z.infer<typeof conversionColumns>

/** How one network writes its reports: which of its columns is which, and how it writes dates and numbers. */
export const reportMappingSchema = z.object({
  /** the heading of each field, as the file has it */
  columns: z.partialRecord(z.enum(fieldNames), z.string().min(1).max(200)),
  date_order: z.enum(dateOrders),
  decimal: z.enum(decimalMarks),
  /** for how many days a date stands where nothing says its last */
  covers: z.enum(covers).default('day'),
  /** of amounts that name none */
  currency: z.string().refine(c => currencyExponent(c) !== null, 'no such currency'),
  /** the conversion, where no column names it */
  conversion: z.string().min(1).max(100).default('purchase'),
  /** further conversions in columns of their own */
  further: z.array(conversionColumns).max(20).default([]),
  /** the IANA zone in which the network's days stand */
  time_zone: zone,
})
export type ReportMapping = z.infer<typeof reportMappingSchema>

const has = (mapping: ReportMapping, ...fields: ReportField[]) => fields.some(f => mapping.columns[f])

/** Whether a report tells spend, conversions, or both. */
export const tellsSpend = (mapping: ReportMapping): boolean => has(mapping, 'spend')
export const tellsClaims = (mapping: ReportMapping): boolean => countedOf(mapping).length > 0

/** Every conversion that is counted in a column, each with its columns; the first without a name where a column names it. */
export function countedOf({ columns, conversion, further }: ReportMapping): ConversionColumns[] {
  const { click_through, view_through, value } = columns
  return [{ conversion, click_through, view_through, value }, ...further].filter(
    one => one.click_through ?? one.view_through,
  )
}

/** The lowest level that its rows are broken down to; null when they name no campaign at all. */
export const levelOf = (mapping: ReportMapping): Level | null =>
  [...levels].reverse().find(level => has(mapping, `${level}_id`, `${level}_name`)) ?? null

export type MappingProblem =
  | { code: 'not_mapped'; field: 'date' | 'campaign' | 'figures' }
  | { code: 'no_such_column'; field: ReportField; column: string }
  | { code: 'column_twice'; column: string }

/** What keeps a report from being taken by a mapping; nothing when it can be. */
export function problemsOf(mapping: ReportMapping, header: readonly string[]): MappingProblem[] {
  const problems: MappingProblem[] = []
  const lacking = (field: 'date' | 'campaign' | 'figures') => problems.push({ code: 'not_mapped', field })
  if (!has(mapping, 'date')) lacking('date')
  if (!tellsSpend(mapping) && !tellsClaims(mapping)) lacking('figures')
  const needsCampaign = tellsSpend(mapping) || levelOf(mapping) !== 'ad'
  if (needsCampaign && !has(mapping, 'campaign_id', 'campaign_name')) lacking('campaign')
  const columns = [
    ...Object.entries(mapping.columns),
    ...mapping.further.flatMap(one =>
      (['click_through', 'view_through', 'value'] as const).flatMap(field =>
        one[field] ? [[field, one[field]] as const] : [],
      ),
    ),
  ] as [ReportField, string][]
  for (const [field, column] of columns)
    if (!header.includes(column)) problems.push({ code: 'no_such_column', field, column })
  for (const [i, [, column]] of columns.entries())
    if (columns.findIndex(([, other]) => other === column) < i)
      problems.push({ code: 'column_twice', column })
  return problems
}
