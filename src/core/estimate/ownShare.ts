import { fromLogit, logit } from './odds'
import type { NetworkTally, Tallies } from './tallies'

/** How far the share of orders that keep their identity may differ for a network's orders: sd of the logit. */
const IDENTITY_SPREAD = 0.3

/** A share with its variance on the logit scale. */
export interface OwnShare {
  share: number
  variance: number
}

/** Of orders that ads brought, the share that is usually tracked, where nothing but claims can tell: sd of the logit. */
const USUAL = { share: 0.72, sd: 0.8 }

/** Which share of a network's orders we track, as the share of all orders that keep their identity tells. */
export function ownShareByIdentity(
  { identity: kept, orders }: Pick<Tallies, 'identity' | 'orders'>,
  { credited, identified }: NetworkTally,
): OwnShare {
  if (kept === null) return { share: USUAL.share, variance: USUAL.sd ** 2 }
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
  variance = 1 / (both + 0.5) + (1 + untrackedVariance / Math.max(1, untracked)) / (untracked + 0.5),
): OwnShare {
  const share = (both + 0.5) / (both + untracked + 1)
  const [own, identity] = [1 / variance, 1 / byIdentity.variance]
  return {
    share: fromLogit((own * logit(share) + identity * logit(byIdentity.share)) / (own + identity)),
    variance: 1 / (own + identity),
  }
}

/**
 * Variances of the logits of both shares where nothing but claims can tell tracked from untracked orders: what is
 * told is what would be if every claim's order were known, less what is left open (Louis 1982), of both at once.
 *
 * @param open variance of the untracked orders, the shares given
 */
export function doubtsByClaims(
  trials: number,
  share: number,
  untracked: number,
  open: number,
): { network: number; own: number } {
  const [ofTracked, ofUntracked] = [trials * share * (1 - share) - open, untracked - open]
  const whole = ofTracked * ofUntracked - open ** 2
  const most = USUAL.sd ** 2 * 4
  if (!(whole > 0) || !(ofTracked > 0)) return { network: most, own: most }
  const [network, log] = [ofUntracked / whole, ofTracked / whole]
  // As one rises the other falls, so that their doubts add up.
  const own = (Math.sqrt(network) * (1 - share) + Math.sqrt(log)) ** 2
  return { network: Math.min(most, network), own: Math.min(most, own) }
}
