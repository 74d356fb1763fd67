import { buildDataset } from '@/core/intake/dataset'
import { gatherEvidence } from '@/core/weigh/evidence'
import { judge } from '@/core/weigh/judge'
import { MARGIN, type MarketPlan, playMarket, usualPlan } from './market'

const MARKETS = 30
const BANDS = 4
const always = { from: -1e6, to: 1e6 }

export interface VerdictScore {
  /** of ads said to pay for themselves with 10–90 %: the mean of what is said, and the share that does */
  said: number
  came_true: number
  /** the same by quarters of that range */
  bands: { said: number; came_true: number; ads: number }[]
  /** cuts and raises, and the share of them that is wrong */
  firm: number
  firm_wrong: number
}

/** How verdicts come true: of ads that are said to pay for themselves with 10–90 %, and of firm calls. */
export function scoreVerdicts(plan: Partial<MarketPlan>): VerdictScore {
  const doubtful: { said: number; true: boolean }[] = []
  let [firm, wrong] = [0, 0]
  for (let seed = 0; seed < MARKETS; seed++) {
    const market = playMarket({ ...usualPlan, clickCost: 95, ...plan, seed: 300 + seed })
    const evidence = gatherEvidence(buildDataset(market.records, market.settings))
    const rows = new Map(
      judge(evidence, always).rows.flatMap(row =>
        row.level === 'ad' ? [[`${row.network}/${row.id}`, row.verdict] as const] : [],
      ),
    )
    for (const ad of market.truth.ads) {
      const { probability, kind } = rows.get(`${ad.network}/${ad.id}`)!
      if (probability === null) continue
      const pays = MARGIN * ad.worthRate >= 1
      if (kind === 'cut' || kind === 'raise') {
        firm += 1
        if (pays !== (kind === 'raise')) wrong += 1
      } else doubtful.push({ said: probability, true: pays })
    }
  }
  const rounded = (value: number) => Number(value.toFixed(4))
  const mean = (list: readonly number[]) => list.reduce((sum, x) => sum + x, 0) / Math.max(1, list.length)
  const [least, most] = [0.1, 0.9]
  const bands = Array.from({ length: BANDS }, (_, band) => {
    const from = least + ((most - least) * band) / BANDS
    const own = doubtful.filter(({ said }) => said >= from && said < from + (most - least) / BANDS)
    return {
      said: rounded(mean(own.map(one => one.said))),
      came_true: rounded(mean(own.map(one => Number(one.true)))),
      ads: own.length,
    }
  })
  return {
    said: rounded(mean(doubtful.map(one => one.said))),
    came_true: rounded(mean(doubtful.map(one => Number(one.true)))),
    bands,
    firm,
    firm_wrong: rounded(wrong / Math.max(1, firm)),
  }
}
