import { sharedDatabase } from '@/data/connect'
import { hasPractice } from '@/server/practice'
import { commonPlaces, describeHandOff, hiddenFields } from '@/server/signals/handOff'
import { HandOffScreen } from '@/ui/signals/HandOffScreen'
import { type Search, workspaceHere } from '../../frame'
import { Station } from '../../Station'
import { installPractice } from '../actions'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Hand-off' }

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const { id } = await workspaceHere()
  return (
    <Station search={await searchParams}>
      <HandOffScreen
        handOff={await describeHandOff(sharedDatabase(), id)}
        places={commonPlaces}
        hiddenFields={hiddenFields}
        install={hasPractice() ? installPractice : null}
      />
    </Station>
  )
}
