import { fromLogit, logit } from './odds'
import type { NetworkTally, Tallies } from './tallies'

/** How far the share of orders that keep their identity may differ for a network's orders: sd of the logit. */
const IDENTITY_SPREAD = 0.3

/** A share with its variance on the logit scale. */
export interface OwnShare {
  share: number
  variance: number
}

/** Which share of a network's orders we track, as the share of all orders that keep their identity tells. */
export function ownShareByIdentity(
  { identity: kept, orders }: Pick<Tallies, 'identity' | 'orders'>,
  { credited, identified }: NetworkTally,
): OwnShare {
  const tagged = credited - identified
  const blank = Math.max(0.02 * credited, (identified * (1 - kept)) / kept - tagged)
  return {
    share: (credited + 0.5) / (credited + blank + 1),
    variance: IDENTITY_SPREAD ** 2 + 1 / (Math.max(1, orders) * kept * (1 - kept)),
  }
}

/** The same by what the network claims of tracked and of untracked orders, and by identity, each by its precision. */
export function ownShareByBoth(
  both: number,
  untracked: number,
  untrackedVariance: number,
  byIdentity: OwnShare,
): OwnShare {
  const share = (both + 0.5) / (both + untracked + 1)
  const variance = 1 / (both + 0.5) + (1 + untrackedVariance / Math.max(1, untracked)) / (untracked + 0.5)
  const [own, identity] = [1 / variance, 1 / byIdentity.variance]
  return {
    share: fromLogit((own * logit(share) + identity * logit(byIdentity.share)) / (own + identity)),
    variance: 1 / (own + identity),
  }
}
