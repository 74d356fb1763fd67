import { currencyExponent, type Minor, minor } from '../shared/money'
import type { Settings } from './settings'

/** Amounts that some settings hold: an order's fee and target, those of groups and campaigns, and of plain rules. */
export const hasSettledAmounts = ({
  fee,
  target_cost,
  product_groups,
  campaign_rules,
  verdicts,
}: Settings): boolean =>
  fee > 0 ||
  target_cost !== undefined ||
  [...product_groups, ...campaign_rules].some(own => own.fee || own.target_cost !== undefined) ||
  verdicts.rules.some(rule => rule.when === 'little_spend')

/**
 * The same settings with every amount in another currency; all else stays as it is.
 *
 * @param convert an amount of the present currency in the other one; null where there is no rate
 * @returns null where an amount cannot be converted: none is ever dropped
 */
export function settingsIn(
  settings: Settings,
  code: string,
  convert: (amount: Minor) => Minor | null,
): Settings | null {
  const [from, to] = [settings.currency, code].map(one => 10 ** (currencyExponent(one) ?? 2)) as [
    number,
    number,
  ]
  let whole = true
  const converted = (amount: number): number => {
    const found = convert(minor(Math.round(amount * from)))
    whole &&= found !== null
    // What somebody set to something stays something, however little one unit is worth.
    return Math.max(found ?? 0, amount > 0 ? 1 : 0) / to
  }
  const inOther = <Own extends { fee?: number | undefined; target_cost?: number | undefined }>({
    fee,
    target_cost,
    ...others
  }: Own) => ({
    ...others,
    ...(fee !== undefined && { fee: fee && converted(fee) }),
    ...(target_cost !== undefined && { target_cost: converted(target_cost) }),
  })
  const { product_groups, campaign_rules, verdicts } = settings
  const changed = {
    ...settings,
    ...inOther({ fee: settings.fee, target_cost: settings.target_cost }),
    currency: code,
    product_groups: product_groups.map(inOther),
    campaign_rules: campaign_rules.map(inOther),
    verdicts: {
      ...verdicts,
      rules: verdicts.rules.map(rule =>
        rule.when === 'little_spend' ? { ...rule, spend: converted(rule.spend) } : rule,
      ),
    },
  }
  return whole ? changed : null
}
