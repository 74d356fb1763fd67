import { readNames } from '@/core/weigh/byPart'
import { type Gathered, gather } from '@/core/weigh/engine'
import { type Evidence, withTree } from '@/core/weigh/evidence'
import type { Database } from '@/data/connect'
import { listNamingRules } from '@/data/namingRules'
import { type Loaded, loadAll, loadOn } from './loaded'
import { snapshotsIn } from './snapshot'

/** How many results of a workspace are kept at once. */
const MOST_RESULTS = 3

/** How far evidence has come that is asked for: its records are read, then gathered, then what is asked worked out. */
export type Stage = 'reading' | 'gathering' | 'computing'

/** What is held of a workspace: its records, and the evidence of each result. */
interface Held {
  loaded: Loaded | null
  /** one after the other: two at once would read the same */
  last: Promise<unknown>
  /** by result, the one asked for last at the end */
  results: Map<string, Gathered>
  /** evidence with its names read by one set of naming rules */
  read: WeakMap<Evidence, { namingRules: string; evidence: Evidence }>
}

/** What evidence was gathered from. */
const gatheredFor = new WeakMap<Evidence, Gathered>()
export function gatheredOf(evidence: Evidence): Gathered {
  const known = gatheredFor.get(evidence)
  if (!known) throw new Error('this evidence was not gathered here')
  return known
}

/**
 * Keeps the evidence of workspaces and results, brought up to each version of their records by what changed.
 *
 * @param snapshots where snapshots of the records are kept, so that the next start is quick; nowhere where it is not said
 * @param reads whether snapshots are only read, which somebody else keeps
 */
export function evidenceKeeper(
  database: Database,
  { snapshots, reads = false }: { snapshots?: string; reads?: boolean } = {},
) {
  const held = new Map<string, Held>()
  const kept = snapshots === undefined ? null : snapshotsIn(database, snapshots)
  const open = async (id: string): Promise<Loaded> => {
    const snapshot = (await kept?.read(id)) ?? null
    return snapshot ? loadOn(database, id, snapshot) : loadAll(database, id)
  }

  const heldOf = (id: string): Held => {
    let own = held.get(id)
    if (!own)
      held.set(id, (own = { loaded: null, last: Promise.resolve(), results: new Map(), read: new WeakMap() }))
    return own
  }

  async function gathered(
    id: string,
    own: Held,
    result: string,
    tell: (stage: Stage) => void,
  ): Promise<Gathered> {
    tell('reading')
    own.loaded = await (own.loaded ? loadOn(database, id, own.loaded) : open(id))
    if (!reads) kept?.keep(id, own.loaded)
    tell('gathering')
    const { records, settings } = own.loaded
    const before = own.results.get(result) ?? null
    const now =
      before?.records === records && before.settings === settings
        ? before
        : gather(records, settings, result, before)
    own.results.delete(result)
    own.results.set(result, now)
    for (const longest of [...own.results.keys()].slice(0, -MOST_RESULTS)) own.results.delete(longest)
    tell('computing')
    return now
  }

  /** The evidence of a result as things stand, with names read by the workspace's rules. */
  return async (id: string, result: string, tell: (stage: Stage) => void = () => {}): Promise<Evidence> => {
    const own = heldOf(id)
    const asked = own.last.then(() => gathered(id, own, result, tell))
    own.last = asked.catch(() => {})
    const { evidence } = await asked
    const rules = await listNamingRules(database, id)
    const namingRules = JSON.stringify(rules)
    const known = own.read.get(evidence)
    if (known?.namingRules === namingRules) return known.evidence
    const read = withTree(evidence, readNames(evidence.data.tree, rules))
    gatheredFor.set(read, await asked)
    own.read.set(evidence, { namingRules, evidence: read })
    return read
  }
}
