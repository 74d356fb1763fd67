/** What is looked at of an aim: the columns of each set, from the left; the others can be added. */
export const columnSets = {
  orders: ['name', 'verdict', 'cost', 'spend', 'estimated', 'balance', 'roas', 'spark'],
  leads: ['name', 'verdict', 'cost', 'spend', 'clicks', 'rate', 'estimated', 'claimed', 'spark'],
  calls: ['name', 'verdict', 'cost', 'spend', 'clicks', 'estimated', 'average', 'spark'],
  partner_sales: ['name', 'verdict', 'cost', 'spend', 'proven', 'estimated', 'value', 'roas', 'spark'],
  all_results: [
    'name',
    'verdict',
    'spend',
    'value',
    'roas',
    'break_even_roas',
    'profit',
    'estimated',
    'spark',
  ],
  awareness: ['name', 'spend', 'impressions', 'frequency', 'cpm', 'clicks', 'ctr', 'cpc', 'verdict'],
  networks_word: [
    'name',
    'spend',
    'claimed_by_click',
    'claimed_by_view',
    'claimed',
    'estimated',
    'capture',
    'cost_claimed',
    'cost',
    'roas_claimed',
    'roas',
  ],
  evidence: ['name', 'spend', 'claimed', 'balance', 'proven', 'tagged', 'estimated', 'cost_tracked', 'cost'],
} as const
export type ColumnSet = keyof typeof columnSets

export const setWords: Record<ColumnSet, string> = {
  orders: 'orders',
  leads: 'leads and sign-ups',
  calls: 'calls',
  partner_sales: 'partner sales',
  all_results: 'all results by value',
  awareness: 'being seen',
  networks_word: 'the networks’ word beside ours',
  evidence: 'the evidence',
}
export const isColumnSet = (id: string): id is ColumnSet => Object.hasOwn(columnSets, id)

/** What somebody has put together and named: which set it began from, and its columns as an address writes them. */
export interface OwnSet {
  name: string
  from: string
  columns: string
}
const KEY = 'own columns of weigh'

/** Own sets, as this browser keeps them. */
export function readOwnSets(): OwnSet[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(KEY) ?? '[]')
    return Array.isArray(kept) ? kept.filter((one): one is OwnSet => typeof one?.name === 'string') : []
  } catch {
    return []
  }
}
export function keepOwnSets(sets: readonly OwnSet[]): void {
  try {
    localStorage.setItem(KEY, JSON.stringify(sets))
  } catch {
    // A browser that keeps nothing has only the sets that ship.
  }
}
