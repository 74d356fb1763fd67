import { NotFound } from '@/ui/shell/NotFound'
import { Station } from './Station'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Not found' }

export default function Page() {
  return (
    <Station search={{}}>
      <NotFound />
    </Station>
  )
}
