import { headers } from 'next/headers'
import { preload } from 'react-dom'
import { LinksScreen } from '@/ui/links/LinksScreen'
import { readAddress, type Search } from '../frame'
import { Station } from '../Station'
import { addAd, listHosts, putAdsOnPractice } from './actions'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Links' }

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  // The browser asks for the ads while it still reads the page; within the application it has asked already.
  if ((await headers()).get('sec-fetch-dest') === 'document')
    preload('/api/links', { as: 'fetch', crossOrigin: 'anonymous' })
  const search = await searchParams
  const { scope } = await readAddress(search)
  return (
    <Station search={search}>
      <LinksScreen
        network={scope.network ?? null}
        actions={{ addAd, putOnPractice: putAdsOnPractice, listHosts }}
      />
    </Station>
  )
}
