import { redirect } from 'next/navigation'
import { readAddress } from './frame'

export const dynamic = 'force-dynamic'

/** Opens where the work is: on the balance, or on what comes first. */
export default async function Page() {
  const { span } = await readAddress({})
  redirect(span ? '/reconcile' : '/begin')
}
