import * as z from 'zod'
import { pathKey } from '../shared/path'
import { type PlanLevel, planLevels } from './profile'

const parametersSchema = z.record(z.string().min(1).max(200), z.string().max(2000)).readonly()
/** One level's own parameters of a tag plan, by key. An empty value removes what a level above set. */
export type Parameters = z.infer<typeof parametersSchema>

/** Where a part of a tag plan stands: a network's account, or one campaign, ad set or ad of it. */
export interface PlanScope {
  network: string
  level: PlanLevel
  /** ID of the campaign, ad set or ad; empty for the account */
  scope: string
}

export const leadsSchema = z.object({ landingPage: z.string().max(4096).nullable(), straight: z.boolean() })
/** Where an ad leads: its landing page, by way of the tracking domain or straight. */
export type Leads = z.infer<typeof leadsSchema>

const id = z.string().max(200)
export const linkChangeSchema = z.discriminatedUnion('what', [
  z.object({
    what: z.literal('plan'),
    network: id,
    level: z.enum(planLevels),
    scope: id,
    before: parametersSchema,
    after: parametersSchema,
  }),
  z.object({ what: z.literal('ad'), network: id, ad: id, before: leadsSchema, after: leadsSchema }),
])
/** A change of what ads carry, with what was before: it can be shown, applied and undone. */
export type LinkChange = z.infer<typeof linkChangeSchema>

/** The changes that undo changes, last first. */
export const undoing = (changes: readonly LinkChange[]): LinkChange[] =>
  changes
    .toReversed()
    .map(change => ({ ...change, before: change.after, after: change.before }) as LinkChange)

export const scopeKey = ({ network, level, scope }: PlanScope): string => pathKey(network, level, scope)

/** What is done to one parameter, or to where ads lead, on many ads at once. */
export type BulkEdit =
  | { do: 'set'; key: string; template: string }
  /** takes away what a level above sets, for this level and those below */
  | { do: 'remove'; key: string }
  /** `find` as it stands in a value, replaced by another text; in every parameter when the key is empty */
  | { do: 'replace'; key: string; find: string; by: string }
  /** forgets what the level itself sets, so that what stands above holds again */
  | { do: 'clear'; key: string }
  | { do: 'lead'; to: Leads }

interface Ad {
  network: string
  id: string
  campaignId: string
  adSetId: string
  landingPage: string | null
  straight: boolean
}

/** The scope at a level that an ad stands in. */
export const scopeOf = (
  ad: Pick<Ad, 'network' | 'id' | 'campaignId' | 'adSetId'>,
  level: PlanLevel,
): PlanScope => ({
  network: ad.network,
  level,
  scope: { account: '', campaign: ad.campaignId, ad_set: ad.adSetId, ad: ad.id }[level],
})

/** What an edit makes of one level's own parameters. */
function edited(own: Parameters, edit: Exclude<BulkEdit, { do: 'lead' }>): Parameters {
  if (edit.do === 'set') return { ...own, [edit.key]: edit.template }
  if (edit.do === 'remove') return { ...own, [edit.key]: '' }
  if (edit.do === 'clear') return Object.fromEntries(Object.entries(own).filter(([key]) => key !== edit.key))
  return Object.fromEntries(
    Object.entries(own).map(([key, value]) => [
      key,
      edit.find && (!edit.key || edit.key === key) ? value.replaceAll(edit.find, edit.by) : value,
    ]),
  )
}

/** The same parameters in the same order. */
export const sameParameters = (a: Parameters, b: Parameters): boolean =>
  JSON.stringify(Object.entries(a)) === JSON.stringify(Object.entries(b))

/**
 * Every change that a bulk edit makes, once for each campaign, ad set or ad at the level where it is made;
 * what would stay as it is makes none.
 *
 * @param ownOf the parameters that a scope itself sets
 */
export function bulkChanges(
  edit: BulkEdit,
  ads: readonly Ad[],
  level: PlanLevel,
  ownOf: (scope: PlanScope) => Parameters,
): LinkChange[] {
  if (edit.do === 'lead')
    return ads.flatMap(({ network, id, landingPage, straight }): LinkChange[] =>
      landingPage === edit.to.landingPage && straight === edit.to.straight
        ? []
        : [{ what: 'ad', network, ad: id, before: { landingPage, straight }, after: edit.to }],
    )
  const scopes = new Map(ads.map(ad => [scopeKey(scopeOf(ad, level)), scopeOf(ad, level)]))
  return [...scopes.values()].flatMap((scope): LinkChange[] => {
    const before = ownOf(scope)
    const after = edited(before, edit)
    return sameParameters(before, after) ? [] : [{ what: 'plan', ...scope, before, after }]
  })
}
