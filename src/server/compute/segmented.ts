import { spanOf } from '@/core/shared/days'
import { bySegment, clicksOfOrders } from '@/core/weigh/bySegment'
import type { Evidence } from '@/core/weigh/evidence'
import { type SegmentKind, segmentOfPart } from '@/core/weigh/segments'
import type { Database } from '@/data/connect'
import { countSegments, findSegments } from '@/data/sources'

/** The latest parting of each evidence: a screen and the figures that open from it ask for the same. */
const parted = new WeakMap<Evidence, { kind: SegmentKind; shared: boolean; evidence: Promise<Evidence> }>()

/**
 * The evidence with its ads parted by a segment, where that is what a part is; else as it is.
 *
 * @param shared whether spend that no report splits is shared out by clicks
 */
export function partedBy(
  evidence: Evidence,
  part: string | undefined,
  from: { database: Database; workspace: string },
  shared = false,
): Promise<Evidence> {
  const kind = segmentOfPart(part)
  if (kind === null) return Promise.resolve(evidence)
  const known = parted.get(evidence)
  if (known?.kind === kind && known.shared === shared) return known.evidence
  const made = { kind, shared, evidence: partNow(evidence, kind, from, shared) }
  parted.set(evidence, made)
  made.evidence.catch(() => parted.delete(evidence))
  return made.evidence
}

async function partNow(
  evidence: Evidence,
  kind: SegmentKind,
  { database, workspace }: { database: Database; workspace: string },
  shared = false,
): Promise<Evidence> {
  const { clicks, settings } = evidence.data
  const asked =
    kind === 'weekday' || kind === 'hour'
      ? []
      : clicksOfOrders(evidence.all ?? evidence).map(click => ({
          id: clicks.ids[click]!,
          at: clicks.at[click]!,
        }))
  const said = await findSegments(database, workspace, kind, settings.time_zone, asked)
  const billed = evidence.data.delivery.map(row => row.day)
  const counted =
    shared && billed.length > 0
      ? await countSegments(
          database,
          workspace,
          spanOf({ from: billed[0]!, to: billed.at(-1)! }, settings.time_zone),
          settings.time_zone,
          kind,
        )
      : undefined
  return bySegment(evidence, kind, click => said.get(clicks.ids[click]!) ?? '', counted)
}
