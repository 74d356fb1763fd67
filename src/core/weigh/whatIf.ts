/** What one ad spent and brought, and what is expected of it; money in minor units. */
export interface PlannedAd {
  /** its row's path, from the network down */
  path: readonly string[]
  spend: number
  /** estimated results in tenths, and what they are worth */
  tenths: number
  value: number
  /** results that its spend is expected to bring again: by its rate, drawn to those of its like; 0 without spend */
  expected: number
  /** variance of the logarithm of that */
  variance: number
  /** what one more of its results is worth, and leaves; null where nothing is known of it */
  worth: number | null
  left: number | null
}

/** A budget as it is to be: 0 for cut, 1 for as it is, 1.5 for half as much more. By row, the nearest above an ad holds. */
export type Factors = ReadonlyMap<string, number>

export interface PlanRules {
  /** by how many hundredths results rise with each hundredth of spend: 1 for in proportion */
  elasticity: number
  /** what becomes of money that is cut: it is saved, or goes to the rows that are left, in proportion */
  cut: 'saved' | 'moved'
}
export const USUAL_ELASTICITY = 0.8

/** The account, or a part of it, as it is or would be; money in minor units. */
export interface PlanSums {
  spend: number
  tenths: number
  value: number
  /** what its results leave for ads and profit */
  leaves: number
}
/** How much more or less one ad would spend and bring. */
export interface AdChange extends PlanSums {
  path: readonly string[]
  factor: number
}

export interface Planned {
  sums: PlanSums
  /** 80 % interval of results */
  low: number
  high: number
  changes: AdChange[]
}

/** Where a normal law leaves a tenth on either side. */
const TENTH = 1.2816

/** The key of a row by its path. */
export const planKey = (path: readonly string[]): string => JSON.stringify(path)

/** The factor of each ad: its own, else that of the row above it, and so on; 1 where there is none. */
export function factorsOfAds(ads: readonly PlannedAd[], factors: Factors, cut: PlanRules['cut']): number[] {
  const own = ads.map(({ path }) => {
    for (let depth = path.length; depth > 0; depth--) {
      const factor = factors.get(planKey(path.slice(0, depth)))
      if (factor !== undefined) return factor
    }
    return undefined
  })
  if (cut === 'saved') return own.map(factor => factor ?? 1)
  const sum = (pick: (factor: number | undefined, spend: number) => number) =>
    ads.reduce((all, ad, i) => all + pick(own[i], ad.spend), 0)
  const freed = sum((factor, spend) => (factor !== undefined && factor < 1 ? (1 - factor) * spend : 0))
  const left = sum((factor, spend) => (factor === undefined ? spend : 0))
  return own.map(factor => factor ?? (left > 0 ? 1 + freed / left : 1))
}

/**
 * What the account would spend and bring with other budgets, in a period like the one that it is judged by: what it
 * is, and for each ad that changes what its spend is expected to bring more or less, with diminishing return. With no
 * change it is what it is today, to the unit.
 *
 * @param today of the whole, with the 80 % interval of its results
 */
export function whatIf(
  today: PlanSums & { low: number; high: number },
  ads: readonly PlannedAd[],
  factors: Factors,
  { elasticity, cut }: PlanRules,
): Planned {
  const changes: AdChange[] = []
  let variance = 0
  factorsOfAds(ads, factors, cut).forEach((factor, i) => {
    if (factor === 1) return
    const ad = ads[i]!
    const share = factor ** elasticity - 1
    const more = share * ad.expected
    variance += more * more * ad.variance
    changes.push({
      path: ad.path,
      factor,
      spend: Math.round((factor - 1) * ad.spend),
      tenths: Math.round(more * 10),
      value: Math.round(more * (ad.worth ?? 0)),
      leaves: Math.round(more * (ad.left ?? 0)),
    })
  })
  const sums = changes.reduce<PlanSums>(
    (sum, change) => ({
      spend: sum.spend + change.spend,
      tenths: sum.tenths + change.tenths,
      value: sum.value + change.value,
      leaves: sum.leaves + change.leaves,
    }),
    { spend: today.spend, tenths: today.tenths, value: today.value, leaves: today.leaves },
  )
  const results = Math.max(0, sums.tenths / 10)
  const beside = (bound: number) => Math.sqrt(((bound - today.tenths / 10) / TENTH) ** 2 + variance) * TENTH
  return {
    sums: { ...sums, tenths: Math.max(0, sums.tenths), value: Math.max(0, sums.value) },
    low: changes.length === 0 ? today.low : Math.max(0, results - beside(today.low)),
    high: changes.length === 0 ? today.high : results + beside(today.high),
    changes,
  }
}

/** What the next unit of spend on an ad brings back, by what its results leave; null where nothing is known of it. */
export const marginalReturn = (ad: PlannedAd, factor: number, elasticity: number): number | null =>
  ad.spend > 0 && ad.left !== null && factor > 0
    ? (elasticity * ad.expected * ad.left * factor ** (elasticity - 1)) / ad.spend
    : null
