import { amountBases } from '@/core/evidence/amountBasis'
import { countByOwnRules } from '@/core/evidence/ownRule'
import { capturesIn } from '@/core/weigh/captures'
import type { Evidence } from '@/core/weigh/evidence'
import { fatesOnce, type Question } from './judged'

/**
 * What each network claims of a period, beside what it should have by its own rule, and which amounts it reports;
 * networks of which nothing is known are left out.
 */
export function ownRulesView(e: Evidence, { period, scope }: Question) {
  const { data, placements } = e
  const captures = capturesIn(e, period)
  const isAsked = (network: string) => !scope.network || network === scope.network
  return {
    networks: countByOwnRules(data, placements, period)
      .map((one, n) => ({
        ...one,
        ownCapture: captures[n]?.ownCapture ?? null,
      }))
      .filter(
        one =>
          isAsked(one.network) &&
          one.credited + one.clickClaims + one.viewClaims + Math.max(...one.byOrderDay, ...one.byItsDay) > 0,
      ),
    amounts: amountBases(data, fatesOnce(e, period))
      .map(one => ({ ...one, network: data.tree.networks[one.network]! }))
      .filter(one => isAsked(one.network)),
  }
}
export type OwnRulesView = ReturnType<typeof ownRulesView>
