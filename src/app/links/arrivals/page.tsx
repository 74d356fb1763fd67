import { sharedDatabase } from '@/data/connect'
import { listProfiles } from '@/data/workspace'
import { ArrivalsScreen } from '@/ui/links/ArrivalsScreen'
import { readAddress, type Search } from '../../frame'
import { Station } from '../../Station'
import { assignUnknownValue, joinNew } from '../actions'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'What arrives' }

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const search = await searchParams
  const { workspace, scope } = await readAddress(search)
  const database = sharedDatabase()
  return (
    <Station search={search}>
      <ArrivalsScreen
        network={scope.network ?? null}
        profiles={await listProfiles(database, workspace)}
        assign={assignUnknownValue}
        join={joinNew}
      />
    </Station>
  )
}
