import { readNames } from '@/core/weigh/byPart'
import { evidenceAmong, type Gathered, gather } from '@/core/weigh/engine'
import { type Evidence, withTrees } from '@/core/weigh/evidence'
import type { Database } from '@/data/connect'
import { listNamingRules } from '@/data/namingRules'
import { type Loaded, loadAll, loadOn } from './loaded'
import { snapshotsIn } from './snapshot'

/** How many results of a workspace are kept at once. */
const MOST_RESULTS = 12

/** How far evidence has come that is asked for: its records are read, then gathered, then what is asked worked out. */
export type Stage = 'reading' | 'gathering' | 'computing'

/** What is held of a workspace: its records, and the evidence of each result. */
interface Held {
  loaded: Loaded | null
  /** one after the other: two at once would read the same */
  last: Promise<unknown>
  /** by result, the one asked for last at the end */
  results: Map<string, Gathered>
  /** of the records as they were last loaded: each result's evidence among all, its names read by one set of naming rules */
  read: { of: Loaded; namingRules: string; evidence: Map<string, Evidence> } | null
}

/** What evidence was gathered from: the records, and what each result was gathered to. */
interface GatheredFrom extends Pick<Gathered, 'records' | 'result'> {
  gathered: (result: string) => Gathered
}
const gatheredFor = new WeakMap<Evidence, GatheredFrom>()
export function gatheredOf(evidence: Evidence): GatheredFrom {
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
    if (!own) held.set(id, (own = { loaded: null, last: Promise.resolve(), results: new Map(), read: null }))
    return own
  }

  async function load(id: string, own: Held, tell: (stage: Stage) => void): Promise<Loaded> {
    tell('reading')
    own.loaded = await (own.loaded ? loadOn(database, id, own.loaded) : open(id))
    if (!reads) kept?.keep(id, own.loaded)
    tell('gathering')
    return own.loaded
  }

  /** One result's evidence as its records stand; what was gathered of it before is gone on from. */
  function gathered(own: Held, { records, settings }: Loaded, result: string): Gathered {
    const before = own.results.get(result) ?? null
    const now =
      before?.records === records && before.settings === settings
        ? before
        : gather(records, settings, result, before)
    own.results.delete(result)
    own.results.set(result, now)
    for (const longest of [...own.results.keys()].slice(0, -MOST_RESULTS)) own.results.delete(longest)
    return now
  }

  /** The evidence of a result as things stand, with names read by the workspace's rules. */
  return async (id: string, result: string, tell: (stage: Stage) => void = () => {}): Promise<Evidence> => {
    const own = heldOf(id)
    const asked = own.last.then(() => load(id, own, tell))
    own.last = asked.catch(() => {})
    const loaded = await asked
    const rules = await listNamingRules(database, id)
    const namingRules = JSON.stringify(rules)
    if (
      own.read?.of.records !== loaded.records ||
      own.read.of.settings !== loaded.settings ||
      own.read.namingRules !== namingRules
    )
      own.read = { of: loaded, namingRules, evidence: new Map() }
    const { evidence } = own.read
    let found = evidence.get(result)
    if (!found) {
      const ofResult = (one: string) => gathered(own, loaded, one)
      found = withTrees(
        evidenceAmong(loaded.records, result, one => ofResult(one).evidence),
        tree => readNames(tree, rules),
      )
      gatheredFor.set(found, { records: loaded.records, result, gathered: ofResult })
      evidence.set(result, found)
    }
    tell('computing')
    return found
  }
}
