import { sharedDatabase } from '@/data/connect'
import { listMoves } from '@/data/moves'
import { askForPage } from '@/server/compute/ask'
import { hasPractice, isPractised } from '@/server/practice'
import { Gathering } from '@/ui/shell/Gathering'
import { NothingYet } from '@/ui/shell/NothingYet'
import { MovesScreen } from '@/ui/weigh/moves/MovesScreen'
import { readAddress, type Search } from '../../frame'
import { Station } from '../../Station'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Moves' }

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const search = await searchParams
  const { workspace, span, result } = await readAddress(search)
  const lists = (await listMoves(sharedDatabase(), workspace)).filter(({ list }) => list.result === result)
  const outcomes =
    span && (await askForPage(workspace, 'outcomes', { lists: lists.map(({ list }) => list) }, result))
  const networks = [...new Set(lists.flatMap(({ list }) => list.moves.map(move => move.network)))]
  return (
    <Station search={search}>
      {!span && <NothingYet station="Weigh" />}
      {span && !outcomes && <Gathering view="outcomes" result={result} />}
      {outcomes && (
        <MovesScreen
          lists={lists}
          outcomes={outcomes}
          practised={networks.filter(isPractised)}
          practice={hasPractice()}
        />
      )}
    </Station>
  )
}
