import { and, asc, eq } from 'drizzle-orm'
import { type NamingRule, namingRuleSchema } from '@/core/links/naming'
import type { Executor } from './connect'
import { namingRules } from './schema'

export const listNamingRules = async (
  database: Executor,
  workspace: string,
): Promise<(NamingRule & { id: string })[]> =>
  (
    await database
      .select()
      .from(namingRules)
      .where(eq(namingRules.workspace, workspace))
      .orderBy(asc(namingRules.id))
  ).map(row => ({ id: row.id, ...namingRuleSchema.parse(row.rule) }))

export const saveNamingRule = (database: Executor, workspace: string, id: string, rule: NamingRule) =>
  database
    .insert(namingRules)
    .values({ workspace, id, rule })
    .onConflictDoUpdate({ target: [namingRules.workspace, namingRules.id], set: { rule } })

export const removeNamingRule = (database: Executor, workspace: string, id: string) =>
  database.delete(namingRules).where(and(eq(namingRules.workspace, workspace), eq(namingRules.id, id)))
