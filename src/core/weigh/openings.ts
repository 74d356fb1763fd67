import { causes, type GapCause } from '../evidence/causes'

/** Figures that stand over or under a line. */
type Part = 'spend' | 'claims' | 'tracked' | 'estimated'
/** One way in which a figure opens: what it is called, and the lists in which it can be followed. */
export interface Opening {
  label: string
  /** orders with their part in it, claims, or days of delivery */
  lists: readonly ('orders' | 'claims' | 'days')[]
  unit: 'orders' | 'claims' | 'clicks' | 'impressions' | 'money' | 'ratio' | 'share'
  /** of a ratio, the figures that it is worked out from */
  over?: Part
  under?: Part
}

const byCause = Object.fromEntries(
  Object.entries(causes).map(([cause, { side, label }]) => [
    cause,
    side === 'pair'
      ? { label, lists: ['orders', 'claims'], unit: 'orders' }
      : { label, lists: [`${side}s`], unit: `${side}s` },
  ]),
) as unknown as Record<GapCause, Opening>

/** Every figure that can be opened. */
export const openings = {
  orders: { label: 'Orders that count', lists: ['orders'], unit: 'orders' },
  claims: { label: 'Claims by networks', lists: ['claims'], unit: 'claims' },
  matched: { label: 'Orders that stand on both sides', lists: ['orders', 'claims'], unit: 'orders' },
  proven: { label: 'Proven orders', lists: ['orders'], unit: 'orders' },
  tagged: { label: 'Tagged orders', lists: ['orders'], unit: 'orders' },
  tracked: { label: 'Orders proven or tagged', lists: ['orders'], unit: 'orders' },
  estimated: { label: 'Estimated orders', lists: ['orders'], unit: 'orders' },
  spend: { label: 'Spend', lists: ['days'], unit: 'money' },
  impressions: { label: 'Impressions', lists: ['days'], unit: 'impressions' },
  clicks: { label: 'Clicks that the network bills', lists: ['days'], unit: 'clicks' },
  clicks_seen: { label: 'Clicks that arrived', lists: ['days'], unit: 'clicks' },
  cost_claimed: {
    label: 'Spend for each claim',
    lists: ['days', 'claims'],
    unit: 'money',
    over: 'spend',
    under: 'claims',
  },
  cost_tracked: {
    label: 'Spend for each order proven or tagged',
    lists: ['days', 'orders'],
    unit: 'money',
    over: 'spend',
    under: 'tracked',
  },
  cost: {
    label: 'Spend for each estimated order',
    lists: ['days', 'orders'],
    unit: 'money',
    over: 'spend',
    under: 'estimated',
  },
  roas: {
    label: 'Value of estimated orders over spend',
    lists: ['orders', 'days'],
    unit: 'ratio',
    over: 'estimated',
    under: 'spend',
  },
  network_capture: { label: 'Captured by the network', lists: ['orders'], unit: 'share' },
  own_capture: { label: 'Captured by our tracking', lists: ['orders'], unit: 'share' },
  ...byCause,
} as const satisfies Record<string, Opening>

export type Figure = keyof typeof openings
export const figures = Object.keys(openings) as Figure[]
export const openingOf = (figure: Figure): Opening => openings[figure]

/** So many records of a figure are given at once. */
export const FIGURE_ROWS = 300
