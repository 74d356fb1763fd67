import { notFound } from 'next/navigation'
import { Gallery } from '@/ui/gallery/Gallery'
import type { Search } from '../frame'
import { Station } from '../Station'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Gallery' }

/** Every part in each state: for development and tests alone. */
export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  if (process.env.AEQUANT_GALLERY !== 'yes') notFound()
  return (
    <Station search={await searchParams}>
      <Gallery />
    </Station>
  )
}
