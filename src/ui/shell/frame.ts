import type { Settings } from '@/core/intake/settings'

/** What every screen stands in: the workspace, its rules, and the period and scope of the address. */
export interface Frame {
  workspace: string
  rules: Settings
  /** `YYYY-MM-DD`, both included */
  period: { from: string; to: string }
  /** first and last day that hold anything; null when nothing is there yet */
  span: { from: string; to: string } | null
  network: string | null
  networks: string[]
  /** what needs attention, by the path of its station */
  attention: Record<string, string>
}
