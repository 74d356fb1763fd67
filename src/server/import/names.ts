import { entitiesOfRow } from '@/core/intake/rowEntities'
import { checkNames, type NamedByRule, type UnfitName } from '@/core/links/naming'
import type { Executor } from '@/data/connect'
import { listNamingRules } from '@/data/namingRules'

const MOST_TOLD = 50

/** Names of a file that do not keep to their rule, the first of them told. */
export interface NameCheck {
  unfitCount: number
  unfit: UnfitName[]
}

/** Checks the names in rows by the workspace's naming rules, each entity once, by its last name. */
export async function checkRowNames(
  database: Executor,
  workspace: string,
  rows: Iterable<Parameters<typeof entitiesOfRow>[0]>,
): Promise<NameCheck> {
  const namingRules = await listNamingRules(database, workspace)
  const entities = new Map<string, NamedByRule>()
  if (namingRules.length > 0)
    for (const row of rows)
      for (const { network, level, id, name } of entitiesOfRow(row))
        if (name !== null) entities.set(`${network}/${level}/${id}`, { network, level, id, name })
  const { unfit } = checkNames(namingRules, entities.values())
  return { unfitCount: unfit.length, unfit: unfit.slice(0, MOST_TOLD) }
}
