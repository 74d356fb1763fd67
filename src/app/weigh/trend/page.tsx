import { parseDay } from '@/core/shared/days'
import { changesBetween } from '@/data/changeLog'
import { sharedDatabase } from '@/data/connect'
import { listMoves } from '@/data/moves'
import { askForPage } from '@/server/compute/ask'
import { Gathering } from '@/ui/shell/Gathering'
import { NothingYet } from '@/ui/shell/NothingYet'
import { TrendScreen } from '@/ui/weigh/trend/TrendScreen'
import { readAddress, type Search } from '../../frame'
import { Station } from '../../Station'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'History' }

/** The row that an address names: the path of one, else the chosen network, else all. */
function pathIn(text: unknown, network: string | undefined): string[] {
  try {
    const path: unknown = JSON.parse(typeof text === 'string' ? text : '')
    if (Array.isArray(path) && path.length <= 4 && path.every(part => typeof part === 'string')) return path
  } catch {
    // An address that names no row is of all.
  }
  return network ? [network] : []
}

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const search = await searchParams
  const { workspace, period, scope, span, result } = await readAddress(search)
  const path = pathIn(search.row, scope.network)
  const length = search.each === 'day' ? 1 : 7
  const view = span && (await askForPage(workspace, 'trend', { period, scope, path, length }, result))
  const days = view && { from: parseDay(view.days.from)!, to: parseDay(view.days.to)! }
  const changes = days ? await changesBetween(sharedDatabase(), workspace, days) : []
  const moves = (await listMoves(sharedDatabase(), workspace)).filter(one => one.undoneAt === null)
  return (
    <Station search={search}>
      {!span && <NothingYet station="Weigh" />}
      {span && !view && <Gathering view="trend" result={result} />}
      {view && (
        <TrendScreen
          view={view}
          marks={[
            ...changes.filter(change => change.what !== 'move').map(change => ({ day: change.day, change })),
            ...moves.flatMap(({ list }) =>
              list.moves
                .filter(
                  move =>
                    path.every((part, i) => move.path[i] === part) ||
                    move.path.every((part, i) => path[i] === part),
                )
                .map(move => ({
                  day: list.day,
                  move: { name: move.name, factor: move.factor, by: list.by },
                })),
            ),
          ]}
        />
      )}
    </Station>
  )
}
