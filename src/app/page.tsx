import { redirect } from 'next/navigation'
import { readAddress } from './frame'

export const dynamic = 'force-dynamic'

/** Opens where the work is: on the balance, or where the first file goes in. */
export default async function Page() {
  const { span } = await readAddress({})
  redirect(span ? '/reconcile' : '/intake/import')
}
