import { type NetworkProfile, neutralTokens, type PlanLevel, planLevels } from '@/core/links/profile'
import type { Reach } from '@/core/links/reach'
import type { AdState } from '@/core/links/survey'
import { parseTemplate } from '@/core/links/template'
import type { Formats } from '../format'

export const stateWords: Record<AdState, string> = {
  tagged: 'tagged',
  differs: 'differs from the plan',
  untagged: 'untagged',
}

const plainLevels: Record<PlanLevel, string> = {
  account: 'account',
  campaign: 'campaign',
  ad_set: 'ad set',
  ad: 'ad',
}
/** A level as the network calls it. */
export const levelName = (profile: Pick<NetworkProfile, 'level_names'>, level: PlanLevel): string =>
  profile.level_names[level] ?? plainLevels[level]

/** How far a change goes: at which levels, and how many ads carry it. */
export function reachWords(
  { levels, ads }: Reach,
  profile: Pick<NetworkProfile, 'level_names'> | undefined,
  begin: string,
  { count }: Formats,
): string {
  const named = levels.map(level => levelName(profile ?? { level_names: {} }, level))
  return `${begin} ${ads === 1 ? 'one ad' : `${count(ads)} ads`}, at ${named.join(' and ')} level.`
}

/** A token in words, its level as the network calls it. */
export function tokenWords(token: string, profile: Pick<NetworkProfile, 'level_names'>): string {
  const [first, said] = token.split('.')
  const level = planLevels.find(l => l === first)
  if (level && said) return `${levelName(profile, level)} ${said === 'id' ? 'ID' : said}`
  if (Object.hasOwn(neutralTokens, token)) return neutralTokens[token as keyof typeof neutralTokens]
  const place = /^sub\.(\d+)$/.exec(token)?.[1]
  return place ? `sub-ID ${place}` : token
}

/** A value as plain text, for where no chip can stand: its tokens in words between ‹ and ›. */
export const templateWords = (template: string, profile: NetworkProfile): string =>
  parseTemplate(template, profile.dialect)
    .map(s => (s.kind === 'literal' ? s.text : `‹${tokenWords(s.token, profile)}›`))
    .join('')

/** All tokens that a network may have: the named ones and its sub-IDs. */
export const allTokens = (profile: Pick<NetworkProfile, 'sub_ids'>): string[] => [
  ...Object.keys(neutralTokens),
  ...Array.from({ length: profile.sub_ids?.limit ?? 0 }, (_, i) => `sub.${i + 1}`),
]
