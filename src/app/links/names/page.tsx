import { checkNames } from '@/core/links/naming'
import { sharedDatabase } from '@/data/connect'
import { listNamingRules } from '@/data/namingRules'
import { listEntities, listProfiles } from '@/data/workspace'
import { NamesScreen } from '@/ui/links/NamesScreen'
import { readAddress, type Search } from '../../frame'
import { Station } from '../../Station'
import { dropNamingRule, saveHosts, saveNamingRule } from '../actions'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Names' }
const MOST_SHOWN = 300

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const search = await searchParams
  const { workspace, settings, scope } = await readAddress(search)
  const database = sharedDatabase()
  const rules = await listNamingRules(database, workspace)
  const entities = (await listEntities(database, workspace))
    .filter(e => !scope.network || e.network === scope.network)
    .map(({ network, level, id, name }) => ({ network, level, id, name }))
  const { read, unfit } = checkNames(rules, entities)
  return (
    <Station search={search}>
      <NamesScreen
        rules={rules}
        read={read}
        unfitCount={unfit.length}
        unfit={unfit.slice(0, MOST_SHOWN)}
        networks={(await listProfiles(database, workspace)).map(p => ({ id: p.id, name: p.name }))}
        hosts={settings.hosts}
        actions={{ save: saveNamingRule, drop: dropNamingRule, saveHosts }}
      />
    </Station>
  )
}
