import { notFound } from 'next/navigation'
import { guidePages } from '@/server/guide'
import { GuideScreen } from '@/ui/help/GuideScreen'
import type { Search } from '../../frame'
import { Station } from '../../Station'

export const dynamic = 'force-dynamic'
type Params = Promise<{ page: string }>

/** The words stand in one table of the interface; the page of them has no file. */
const WORDS = { name: 'words', title: 'Words' }
const titleOf = async (name: string) => [...(await guidePages()), WORDS].find(p => p.name === name)?.title

export async function generateMetadata({ params }: { params: Params }) {
  return { title: (await titleOf((await params).page)) ?? 'Guide' }
}

export default async function Page({
  params,
  searchParams,
}: {
  params: Params
  searchParams: Promise<Search>
}) {
  const { page } = await params
  const pages = await guidePages()
  if (!(await titleOf(page))) notFound()
  return (
    <Station search={await searchParams}>
      <GuideScreen
        pages={[...pages.map(({ name, title }) => ({ name, title })), WORDS]}
        here={page}
        text={pages.find(one => one.name === page)?.text ?? null}
      />
    </Station>
  )
}
