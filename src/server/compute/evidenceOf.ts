import { gatherClicks } from '@/core/intake/clicks'
import { buildDataset } from '@/core/intake/dataset'
import { readNames } from '@/core/weigh/byPart'
import { type Evidence, gatherEvidence } from '@/core/weigh/evidence'
import type { Database } from '@/data/connect'
import { eachClick, loadRecords } from '@/data/loadRecords'
import { listNamingRules } from '@/data/namingRules'
import { findWorkspace, type Workspace } from '@/data/workspace'

/** How many results of a workspace are kept at once. */
const MOST_RESULTS = 3

/** What is held of a workspace: the clicks, to which later ones are added, and the evidence of each result. */
interface Held {
  clicks: ReturnType<typeof gatherClicks>
  until: Date | null
  /** one after the other: two at once would add to the same clicks */
  last: Promise<unknown>
  /** by result, the one asked for last at the end */
  results: Map<string, { version: number; evidence: Promise<Evidence> }>
  /** evidence with its names read by one set of naming rules */
  read: WeakMap<Evidence, { namingRules: string; evidence: Evidence }>
}

/** Keeps the evidence of workspaces and results, each as of one version of its records. */
export function evidenceKeeper(database: Database) {
  const held = new Map<string, Held>()

  const heldOf = (id: string): Held => {
    let own = held.get(id)
    if (!own)
      held.set(
        id,
        (own = {
          // Each time some that arrived shortly before are read again.
          clicks: gatherClicks({ again: true }),
          until: null,
          last: Promise.resolve(),
          results: new Map(),
          read: new WeakMap(),
        }),
      )
    return own
  }

  async function gather({ id, settings }: Workspace, own: Held, result: string): Promise<Evidence> {
    own.until = await eachClick(database, id, own.until, own.clicks.add)
    const records = await loadRecords(database, id)
    return gatherEvidence(buildDataset({ ...records, clicks: own.clicks.columns() }, settings, result))
  }

  function gathered(workspace: Workspace, own: Held, result: string): Promise<Evidence> {
    const known = own.results.get(result)
    own.results.delete(result)
    if (known?.version === workspace.version) {
      own.results.set(result, known)
      return known.evidence
    }
    const evidence = own.last.then(() => gather(workspace, own, result))
    own.last = evidence.catch(() => {})
    const kept = { version: workspace.version, evidence }
    own.results.set(result, kept)
    evidence.catch(() => own.results.get(result) === kept && own.results.delete(result))
    for (const longest of [...own.results.keys()].slice(0, -MOST_RESULTS)) own.results.delete(longest)
    return evidence
  }

  /** The evidence of a result as things stand, with names read by the workspace's rules. */
  return async (id: string, result: string): Promise<Evidence> => {
    const workspace = await findWorkspace(database, id)
    if (!workspace) throw new Error(`No workspace "${id}".`)
    const own = heldOf(id)
    const evidence = await gathered(workspace, own, result)
    const rules = await listNamingRules(database, id)
    const namingRules = JSON.stringify(rules)
    const known = own.read.get(evidence)
    if (known?.namingRules === namingRules) return known.evidence
    const read = { ...evidence, data: { ...evidence.data, tree: readNames(evidence.data.tree, rules) } }
    own.read.set(evidence, { namingRules, evidence: read })
    return read
  }
}
