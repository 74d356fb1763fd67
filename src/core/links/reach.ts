import type { PlanScope } from './change'
import { type BulkEdit, bulkChanges, type LinkChange, type Parameters, scopeKey, scopeOf } from './change'
import { type PlanLevel, planLevels } from './profile'

interface Ad {
  network: string
  id: string
  campaignId: string
  adSetId: string
  landingPage: string | null
  straight: boolean
}

/** How far changes go: at which levels they are made, outermost first, and how many ads carry them. */
export interface Reach {
  levels: PlanLevel[]
  ads: number
}

/** The reach of changes among all ads that there are. */
export function reachOf(changes: readonly LinkChange[], ads: readonly Ad[]): Reach {
  const at = new Set(changes.map(change => (change.what === 'ad' ? 'ad' : change.level)))
  const scopes = new Set(changes.flatMap(change => (change.what === 'plan' ? [scopeKey(change)] : [])))
  const led = new Set(
    changes.flatMap(change => (change.what === 'ad' ? [`${change.network}/${change.ad}`] : [])),
  )
  const touched = ads.filter(
    ad =>
      led.has(`${ad.network}/${ad.id}`) ||
      planLevels.some(level => at.has(level) && scopes.has(scopeKey(scopeOf(ad, level)))),
  )
  return { levels: planLevels.filter(level => at.has(level)), ads: touched.length }
}

/**
 * What a bulk edit makes of marked ads and of no others: it is made at the asked level where all that stands
 * there is marked, and at each ad where it is not.
 *
 * @param all every ad that there is
 * @returns with how many ads it is made at singly for that reason
 */
export function markedChanges(
  edit: BulkEdit,
  marked: readonly Ad[],
  all: readonly Ad[],
  level: PlanLevel,
  ownOf: (scope: PlanScope) => Parameters,
): { changes: LinkChange[]; singly: number } {
  if (edit.do === 'lead' || level === 'ad')
    return { changes: bulkChanges(edit, marked, level, ownOf), singly: 0 }
  const isMarked = new Set(marked.map(ad => `${ad.network}/${ad.id}`))
  const keyOf = (ad: Ad) => scopeKey(scopeOf(ad, level))
  const shared = new Set(all.filter(ad => !isMarked.has(`${ad.network}/${ad.id}`)).map(keyOf))
  const whole = marked.filter(ad => !shared.has(keyOf(ad)))
  const single = marked.filter(ad => shared.has(keyOf(ad)))
  const changes = [...bulkChanges(edit, whole, level, ownOf), ...bulkChanges(edit, single, 'ad', ownOf)]
  return { changes, singly: single.length }
}
