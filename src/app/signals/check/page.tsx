import { sharedDatabase } from '@/data/connect'
import { hasPractice, practiceOrigin } from '@/server/practice'
import { pageSpecOf } from '@/server/signals/handOff'
import { siteHome } from '@/server/signals/rules'
import { CheckScreen } from '@/ui/signals/CheckScreen'
import { type Search, workspaceHere } from '../../frame'
import { Station } from '../../Station'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Page check' }

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const { id } = await workspaceHere()
  const site = hasPractice()
    ? `${practiceOrigin('shop.tarnbrook')}/kits`
    : await siteHome(sharedDatabase(), id)
  const { tags } = await pageSpecOf(sharedDatabase(), id, site)
  return (
    <Station search={await searchParams}>
      <CheckScreen site={site} wanted={tags.map(tag => `${tag.network} (${tag.account})`)} />
    </Station>
  )
}
