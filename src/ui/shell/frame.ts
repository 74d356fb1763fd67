import type { OwnRules, Settings } from '@/core/intake/settings'
import type { Habits } from '../format'

/** What every screen stands in: the workspace, its settings, and the period and scope of the address. */
export interface Frame {
  workspace: string
  settings: Settings
  /** how figures are written */
  habits: Habits
  /** the rules by which the judged result is counted */
  judged: OwnRules
  /** `YYYY-MM-DD`, both included */
  period: { from: string; to: string }
  /** whether it stands beside as many days before */
  before: boolean
  /** first and last day that hold anything; null when nothing is there yet */
  span: { from: string; to: string } | null
  network: string | null
  /** the ID of the result that is judged, and those that there are */
  result: string
  results: { id: string; name: string }[]
  /** networks that have ads, by name */
  networks: { id: string; name: string }[]
  /** every network that has a profile, by ID */
  networkNames: Record<string, string>
  /** that the address asks for what is not there, or that figures stand still, in sentences */
  warnings: string[]
  /** what needs attention, by the path of its station */
  attention: Record<string, string>
}
