import { keepCurrency } from '@/app/actions'
import { ShopExportScreen } from '@/ui/intake/ShopExportScreen'
import type { Search } from '../../frame'
import { Station } from '../../Station'
import { giveRatesHere } from '../../settings/actions'
import { takeImportBack } from '../actions'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Shop export' }

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  return (
    <Station search={await searchParams}>
      <ShopExportScreen countIn={keepCurrency} giveRates={giveRatesHere} undo={takeImportBack} />
    </Station>
  )
}
