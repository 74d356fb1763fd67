import type { Settings } from '../intake/settings'
import type { Parameters } from './change'
import { type NetworkProfile, spell } from './profile'

/**
 * The parameters that a network's account usually sets, so that an order names its source, campaign, ad
 * set and ad where the settings look for them: by name where the network has it, else by ID.
 */
export function usualPlan(
  profile: NetworkProfile,
  keys: Pick<Settings, 'campaign_key' | 'ad_set_key' | 'ad_key'>,
): Parameters {
  const token = (level: 'campaign' | 'ad_set' | 'ad') =>
    [`${level}.name`, `${level}.id`].find(t => spell(profile.dialect, t) !== null)
  const named = [
    [keys.campaign_key, token('campaign')],
    [keys.ad_set_key, token('ad_set')],
    [keys.ad_key, token('ad')],
  ]
  return {
    utm_source: profile.id,
    ...Object.fromEntries(named.flatMap(([key, t]) => (t ? [[key, `{${t}}`]] : []))),
  }
}
