import { type AdTree, leafNumbers } from '@/core/intake/tree'
import type { Span } from '@/core/shared/days'
import type { SeenClicks } from '@/core/weigh/openFigure'
import { segmentPart } from '@/core/weigh/segments'
import type { Executor } from '@/data/connect'
import { type ClicksAsked, countClicksByDay, type Segment } from '@/data/sources'

/** Ad clicks that arrived and count, by leaf of a tree and day of a zone. */
export async function clicksSeen(
  database: Executor,
  workspace: string,
  tree: AdTree,
  span: Span,
  zone: string,
  asked: ClicksAsked = {},
): Promise<SeenClicks[]> {
  const leafOf = leafNumbers(tree)
  const counted = await countClicksByDay(database, workspace, span, zone, asked)
  return counted.map(({ day, count, ...ad }) => {
    const leaf = leafOf(ad)
    return { leaf: asked.segment ? partOf(tree, leaf, asked.segment) : leaf, day, clicks: count }
  })
}

/** The part of a leaf that is a segment; the leaf itself where it has none. */
const partOf = ({ leaves, partsOf }: AdTree, leaf: number, { kind, value }: Segment): number =>
  partsOf?.[leaf]?.find(part => leaves[part]!.parts?.[segmentPart(kind)] === value) ?? leaf
