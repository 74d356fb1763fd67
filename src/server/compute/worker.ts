import { parentPort } from 'node:worker_threads'
import { gatherClicks } from '@/core/intake/clicks'
import { buildDataset } from '@/core/intake/dataset'
import type { Settings } from '@/core/intake/settings'
import { readNames } from '@/core/weigh/byPart'
import { type Evidence, gatherEvidence } from '@/core/weigh/evidence'
import { openDatabase } from '@/data/connect'
import { DatabaseAway } from '@/data/errors'
import { eachClick, loadRecords } from '@/data/loadRecords'
import { listNamingRules } from '@/data/namingRules'
import { findWorkspace } from '@/data/workspace'
import { judgedSettings } from '../counting'
import { readings, type ViewName, views, type WorkspaceRecords } from './views'
import { yieldToOthers } from './yieldToOthers'

/** One question to a worker and its answer. */
export interface Asked {
  number: number
  workspace: string
  view: ViewName
  question: unknown
}
export type Answered = { number: number; answer: unknown } | { number: number; error: string; away: boolean }

yieldToOthers()
const { database } = openDatabase()
/** The evidence of each workspace as of one version of its records. */
const gathered = new Map<string, { version: number; evidence: Promise<Evidence> }>()
/** The clicks of each workspace, to which those that arrive later are added. */
const clicksOf = new Map<string, { gather: ReturnType<typeof gatherClicks>; until: Date | null }>()

async function gather(id: string, settings: Settings): Promise<Evidence> {
  const clicks = clicksOf.get(id) ?? { gather: gatherClicks(), until: null }
  clicks.until = await eachClick(database, id, clicks.until, clicks.gather.add)
  clicksOf.set(id, clicks)
  const records = await loadRecords(database, id)
  const clickColumns = clicks.gather.columns()
  return gatherEvidence(buildDataset({ ...records, clicks: clickColumns }, settings))
}

/** The evidence of each workspace with its names read by one set of naming rules. */
const named = new Map<string, { evidence: Evidence; namingRules: string; read: Evidence }>()

async function evidenceOf(id: string): Promise<Evidence> {
  const evidence = await gatheredOf(id)
  const namingRules = await listNamingRules(database, id)
  const asked = JSON.stringify(namingRules)
  const known = named.get(id)
  if (known?.evidence === evidence && known.namingRules === asked) return known.read
  const read = { ...evidence, data: { ...evidence.data, tree: readNames(evidence.data.tree, namingRules) } }
  named.set(id, { evidence, namingRules: asked, read })
  return read
}

async function gatheredOf(id: string): Promise<Evidence> {
  const workspace = await findWorkspace(database, id)
  if (!workspace) throw new Error(`No workspace "${id}".`)
  const known = gathered.get(id)
  if (known?.version === workspace.version) return known.evidence
  // One after the other: two at once would add to the same clicks.
  const evidence = Promise.resolve(known?.evidence)
    .catch(() => {})
    .then(async () => gather(id, await judgedSettings(database, workspace)))
  gathered.set(id, { version: workspace.version, evidence })
  evidence.catch(() => gathered.delete(id))
  return evidence
}

parentPort?.on('message', async ({ number, workspace, view, question }: Asked) => {
  try {
    type Compute = (evidence: Evidence | null, question: unknown, from: WorkspaceRecords) => unknown
    const from = { database, workspace }
    const answer =
      view in readings
        ? await (readings as Record<string, Compute>)[view]!(null, question, from)
        : await (views as Record<string, Compute>)[view]!(await evidenceOf(workspace), question, from)
    parentPort?.postMessage({ number, answer } satisfies Answered)
  } catch (error) {
    parentPort?.postMessage({
      number,
      error: error instanceof Error ? error.message : String(error),
      away: error instanceof DatabaseAway,
    } satisfies Answered)
  }
})
