import { sharedDatabase } from '@/data/connect'
import { listDefinitions, listRules } from '@/data/signals'
import { siteHome, tryRule } from '@/server/signals/rules'
import { RulesScreen } from '@/ui/signals/RulesScreen'
import { type Search, workspaceHere } from '../frame'
import { Station } from '../Station'
import { attemptRule, removeRule, saveRule } from './actions'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Rules' }

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const search = await searchParams
  const { id } = await workspaceHere()
  const rules = (await listRules(sharedDatabase(), id)).map(({ workspace: _, ...rule }) => rule)
  const site = await siteHome(sharedDatabase(), id)
  const now = Date.now()
  const tries = await Promise.all(
    rules.map(async rule => [rule.id, await tryRule(sharedDatabase(), id, rule, site, [], now)] as const),
  )
  return (
    <Station search={search}>
      <RulesScreen
        opened={typeof search.rule === 'string' ? search.rule : null}
        rules={rules}
        results={(await listDefinitions(sharedDatabase(), id))
          .filter(d => !d.archived)
          .map(d => ({ id: d.id, name: d.name }))}
        tries={Object.fromEntries(tries)}
        actions={{ save: saveRule, drop: removeRule, attempt: attemptRule }}
      />
    </Station>
  )
}
