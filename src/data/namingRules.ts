import { and, asc, eq } from 'drizzle-orm'
import { type NamingRule, namingRuleSchema } from '@/core/links/naming'
import type { Executor } from './connect'
import { namingRules } from './schema'
import { readStored } from './stored'

export const listNamingRules = async (
  database: Executor,
  workspace: string,
): Promise<(NamingRule & { id: string })[]> =>
  readStored(
    'naming_rules',
    namingRuleSchema,
    await database
      .select()
      .from(namingRules)
      .where(eq(namingRules.workspace, workspace))
      .orderBy(asc(namingRules.id)),
    row => ({ id: row.id, value: row.rule }),
  ).map(({ row, value }) => ({ id: row.id, ...value }))

export const saveNamingRule = (database: Executor, workspace: string, id: string, rule: NamingRule) =>
  database
    .insert(namingRules)
    .values({ workspace, id, rule })
    .onConflictDoUpdate({ target: [namingRules.workspace, namingRules.id], set: { rule } })

export const removeNamingRule = (database: Executor, workspace: string, id: string) =>
  database.delete(namingRules).where(and(eq(namingRules.workspace, workspace), eq(namingRules.id, id)))
