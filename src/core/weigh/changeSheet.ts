import * as z from 'zod'
import { formatAmount } from '../shared/money'

/** What a column of a change sheet can hold, each with what it says to a person. */
export const sheetFields = {
  date: 'day',
  level: 'level',
  campaign_id: 'campaign ID',
  campaign_name: 'campaign name',
  ad_set_id: 'ad set ID',
  ad_set_name: 'ad set name',
  ad_id: 'ad ID',
  ad_name: 'ad name',
  status: 'status',
  daily_budget: 'daily budget',
  change: 'change in %',
  value: 'source, placement or keyword',
  action: 'left out or kept',
  bid_factor: 'bid factor',
} as const
export type SheetField = keyof typeof sheetFields

const columnsSchema = z
  .array(
    z.object({
      heading: z.string().min(1).max(100),
      holds: z.enum(Object.keys(sheetFields) as [SheetField, ...SheetField[]]),
    }),
  )
  .min(1)

/** How a network takes changes as a file: its columns, and its own words for what is to be done. */
export const sheetProfileSchema = z.object({
  moves: columnsSchema.default([
    { heading: 'level', holds: 'level' },
    { heading: 'campaign_id', holds: 'campaign_id' },
    { heading: 'campaign_name', holds: 'campaign_name' },
    { heading: 'ad_set_id', holds: 'ad_set_id' },
    { heading: 'ad_set_name', holds: 'ad_set_name' },
    { heading: 'ad_id', holds: 'ad_id' },
    { heading: 'ad_name', holds: 'ad_name' },
    { heading: 'status', holds: 'status' },
    { heading: 'daily_budget', holds: 'daily_budget' },
  ]),
  lists: columnsSchema.default([
    { heading: 'value', holds: 'value' },
    { heading: 'action', holds: 'action' },
    { heading: 'bid_factor', holds: 'bid_factor' },
  ]),
  words: z
    .object({
      runs: z.string().default('active'),
      stops: z.string().default('paused'),
      exclude: z.string().default('exclude'),
      include: z.string().default('include'),
    })
    .prefault({}),
})
export type SheetProfile = z.infer<typeof sheetProfileSchema>

/** One line of a change sheet before it is written; amounts in minor units. */
export interface SheetRow {
  date: string
  /** the row's IDs and names from the campaign down; empty where it has none */
  ids: readonly string[]
  names: readonly string[]
  levelName: string
  /** for moves: what is spent a day from now on, and the factor of that */
  perDay?: number
  factor?: number
  /** for lists */
  value?: string
  action?: 'exclude' | 'include'
  bidFactor?: number
}

/**
 * Lines of a change sheet as the network's profile wants them.
 *
 * @param which `moves` for budgets, `lists` for what is left out and kept
 */
export function sheetCells(
  profile: SheetProfile,
  which: 'moves' | 'lists',
  rows: readonly SheetRow[],
  currency: string,
): { fields: string[]; data: string[][] } {
  const { words } = profile
  const cell = (row: SheetRow, holds: SheetField): string => {
    const [campaign, adSet, ad] = [0, 1, 2]
    switch (holds) {
      case 'date':
        return row.date
      case 'level':
        return row.levelName
      case 'campaign_id':
        return row.ids[campaign] ?? ''
      case 'ad_set_id':
        return row.ids[adSet] ?? ''
      case 'ad_id':
        return row.ids[ad] ?? ''
      case 'campaign_name':
        return row.names[campaign] ?? ''
      case 'ad_set_name':
        return row.names[adSet] ?? ''
      case 'ad_name':
        return row.names[ad] ?? ''
      case 'status':
        return row.factor === 0 ? words.stops : words.runs
      case 'daily_budget':
        return row.factor === 0 || row.perDay === undefined
          ? ''
          : formatAmount(Math.round(row.perDay), currency)
      case 'change':
        return row.factor === undefined ? '' : String(Math.round((row.factor - 1) * 100))
      case 'value':
        return row.value ?? ''
      case 'action':
        return row.action ? words[row.action] : ''
      case 'bid_factor':
        return row.action === 'include' && row.bidFactor !== undefined ? row.bidFactor.toFixed(2) : ''
    }
  }
  const columns = profile[which]
  return {
    fields: columns.map(column => column.heading),
    data: rows.map(row => columns.map(column => cell(row, column.holds))),
  }
}
