import { notFound } from 'next/navigation'
import { sharedDatabase } from '@/data/connect'
import { describeOrder } from '@/server/arrivals/order'
import { OrderScreen } from '@/ui/intake/OrderScreen'
import { type Search, workspaceHere } from '../../../frame'
import { Station } from '../../../Station'

export const dynamic = 'force-dynamic'

type Params = Promise<{ order: string }>

export async function generateMetadata({ params }: { params: Params }) {
  return { title: `Order ${decodeURIComponent((await params).order)}` }
}

export default async function Page({
  params,
  searchParams,
}: {
  params: Params
  searchParams: Promise<Search>
}) {
  const workspace = await workspaceHere()
  const described = await describeOrder(sharedDatabase(), workspace, decodeURIComponent((await params).order))
  if (!described) notFound()
  return (
    <Station search={await searchParams}>
      <OrderScreen described={described} ownCurrency={workspace.settings.currency} />
    </Station>
  )
}
