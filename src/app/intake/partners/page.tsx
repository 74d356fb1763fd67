import { sharedDatabase } from '@/data/connect'
import { listRoutes } from '@/data/workspace'
import { describePartners } from '@/server/partners'
import { PartnersScreen } from '@/ui/intake/PartnersScreen'
import { type Search, workspaceHere } from '../../frame'
import { Station } from '../../Station'
import { keepPartnerHere, offerOnRoute, testPartner } from '../actions'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Partners' }

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const { id } = await workspaceHere()
  return (
    <Station search={await searchParams}>
      <PartnersScreen
        partners={await describePartners(sharedDatabase(), id)}
        codes={(await listRoutes(sharedDatabase())).filter(r => r.workspace === id).map(r => r.code)}
        keep={keepPartnerHere}
        place={offerOnRoute}
        test={testPartner}
      />
    </Station>
  )
}
