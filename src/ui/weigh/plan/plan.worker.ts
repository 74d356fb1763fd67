import { mostWorth, type Proposal, reachBreakEven } from '@/core/weigh/propose'
import { type Planned, type PlannedAd, type PlanRules, type PlanSums, whatIf } from '@/core/weigh/whatIf'

/** What is asked of the thread that plans; it keeps the ads that it was given last. */
export type PlanAsked = { id: number } & (
  | { do: 'know'; ads: PlannedAd[]; today: PlanSums & { low: number; high: number } }
  | { do: 'plan'; factors: [string, number][]; rules: PlanRules }
  | { do: 'break_even'; elasticity: number }
  | { do: 'most_worth'; elasticity: number; budget: number; most: number }
)
export interface PlanAnswered {
  id: number
  planned?: Planned
  proposal?: Proposal
}

let known: { ads: PlannedAd[]; today: PlanSums & { low: number; high: number } } | null = null

self.onmessage = ({ data: asked }: MessageEvent<PlanAsked>) => {
  const answer = (given: Omit<PlanAnswered, 'id'>) => self.postMessage({ id: asked.id, ...given })
  if (asked.do === 'know') {
    known = asked
    return answer({})
  }
  if (!known) return answer({})
  const { ads, today } = known
  switch (asked.do) {
    case 'plan':
      return answer({ planned: whatIf(today, ads, new Map(asked.factors), asked.rules) })
    case 'break_even':
      return answer({ proposal: reachBreakEven(today, ads, asked.elasticity) })
    case 'most_worth':
      return answer({ proposal: mostWorth(ads, asked) })
  }
}
