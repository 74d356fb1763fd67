import { PLACEMENTS } from '@/core/links/savedLink'
import { sharedDatabase } from '@/data/connect'
import { listProfiles } from '@/data/workspace'
import { ProfilesScreen } from '@/ui/links/ProfilesScreen'
import { readAddress, type Search } from '../../frame'
import { Station } from '../../Station'
import { beginNetwork } from '../../settings/actions'
import { saveProfile } from '../actions'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Profiles' }

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const search = await searchParams
  const { workspace } = await readAddress(search)
  const profiles = (await listProfiles(sharedDatabase(), workspace)).filter(p => p.id !== PLACEMENTS)
  return (
    <Station search={search}>
      <ProfilesScreen
        profiles={profiles}
        opened={typeof search.profile === 'string' ? search.profile : null}
        save={saveProfile}
        begin={beginNetwork}
      />
    </Station>
  )
}
