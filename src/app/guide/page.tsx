import { redirect } from 'next/navigation'
import { guidePages } from '@/server/guide'

export const dynamic = 'force-dynamic'

export default async function Page() {
  const [first] = await guidePages()
  redirect(`/guide/${first?.name ?? 'words'}`)
}
