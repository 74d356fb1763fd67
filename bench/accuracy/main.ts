/** `npm run accuracy [-- NAME…]`: estimates against the truth of made-up markets; one JSON line each. */
import { type MarketPlan, usualPlan } from './market'
import { type Score, scoreMarket } from './score'

const SEEDS = 10
/** Each kind of market with how far off the estimate may be, and the least and greatest share of ranges that hold. */
const markets: Record<string, { plan: Partial<MarketPlan>; most: number; cover?: [number, number] }> = {
  rows: { plan: {}, most: 0.045 },
  sums: { plan: { reports: 'sums' }, most: 0.055 },
  both: { plan: { reports: 'both' }, most: 0.055 },
  few_prices: { plan: { reports: 'sums', prices: 'few' }, most: 0.055 },
  one_price: { plan: { reports: 'sums', prices: 'one' }, most: 0.065 },
  opt_outs: { plan: { reports: 'sums', optOuts: 1.7 }, most: 0.065 },
  fourfold_rows: { plan: { volume: 4 }, most: 0.026 },
  fourfold_sums: { plan: { reports: 'sums', volume: 4 }, most: 0.032 },
  drop_rows: { plan: { drop: 45 }, most: 0.045 },
  drop_sums: { plan: { reports: 'sums', drop: 45 }, most: 0.055 },
  offline: { plan: { reports: 'sums', offline: 8 }, most: 0.09, cover: [0.75, 1] },
  blocking: { plan: { reports: 'sums', blocking: 0.15 }, most: 0.09, cover: [0.75, 1] },
}

const wanted = process.argv.slice(2)
const unknown = wanted.filter(name => !(name in markets))
if (unknown.length > 0) {
  console.error(`No market "${unknown[0]}". There are: ${Object.keys(markets).join(', ')}.`)
  process.exit(2)
}
for (const [name, { plan, most, cover: [least, greatest] = [0.75, 0.88] }] of Object.entries(markets)) {
  if (wanted.length > 0 && !wanted.includes(name)) continue
  const started = performance.now()
  const scores = Array.from({ length: SEEDS }, (_, seed) => scoreMarket({ ...usualPlan, ...plan, seed }))
  const mean = (pick: (score: Score) => number) =>
    Number((scores.reduce((sum, score) => sum + pick(score), 0) / SEEDS).toFixed(4))
  const [estimate, cover] = [mean(s => s.estimate), mean(s => s.cover)]
  console.log(
    JSON.stringify({
      market: name,
      estimate,
      at_most: most,
      oracle: mean(s => s.oracle),
      claims: mean(s => s.claims),
      tracking: mean(s => s.tracking),
      cover,
      ...(plan.drop ? { capture_off: mean(s => s.captureOff ?? 0) } : {}),
      holds: estimate <= most && cover >= least && cover <= greatest,
      seconds: Number(((performance.now() - started) / 1000).toFixed(1)),
    }),
  )
}
