import { type AdTree, leafNumbers } from '@/core/intake/tree'
import type { Span } from '@/core/shared/days'
import type { SeenClicks } from '@/core/weigh/openFigure'
import type { Executor } from '@/data/connect'
import { countClicksByDay } from '@/data/sources'

/** Ad clicks that arrived and count, by leaf of a tree and day of a zone. */
export async function clicksSeen(
  database: Executor,
  workspace: string,
  tree: AdTree,
  span: Span,
  zone: string,
  networks?: readonly string[],
): Promise<SeenClicks[]> {
  const leafOf = leafNumbers(tree)
  const counted = await countClicksByDay(database, workspace, span, zone, networks)
  return counted.map(({ day, count, ...ad }) => ({ leaf: leafOf(ad), day, clicks: count }))
}
