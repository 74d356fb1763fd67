import { v7 as uuidv7 } from 'uuid'
import * as z from 'zod'
import { nameKey } from '@/core/intake/tree'
import { levelsOf, type NetworkProfile } from '@/core/links/profile'
import { formatDay, type Period, zoneClock } from '@/core/shared/days'
import { type SheetRow, sheetCells } from '@/core/weigh/changeSheet'
import type { KeptMoves, MoveList } from '@/core/weigh/moves'
import { noteChange } from '@/data/changeLog'
import type { Database } from '@/data/connect'
import { listMoves, noteApplied, saveMoves } from '@/data/moves'
import { relaySecret } from '@/data/relays'
import { moveLists } from '@/data/schema'
import { takeBack } from '@/data/takeBack'
import type { Workspace } from '@/data/workspace'
import { listProfiles } from '@/data/workspace'
import { writeCsv } from '@/formats/csv'
import { ask } from './compute/ask'
import { askPractice, isPractised } from './practice'

/** What is sent of moves: what they are expected to do is worked out here. */
export const newMovesSchema = z.object({
  by: z.string().trim().max(80).default(''),
  why: z.string().trim().max(500).default(''),
  factors: z
    .array(z.object({ path: z.array(z.string().max(500)).min(2).max(4), factor: z.number().min(0).max(100) }))
    .min(1)
    .max(2000),
  elasticity: z.number().min(0.2).max(1),
  cut: z.enum(['saved', 'moved']),
})

/** Where moves are applied, and by how many days the practice market goes on. */
export const atNetworkSchema = z.object({ network: z.string().min(1).max(200) })
export const practiceDaysSchema = z.object({ days: z.int().min(1).max(14) })

/**
 * Keeps a plan as moves, each with its forecast.
 *
 * @returns the list, or what is wrong in words
 */
export async function makeMoves(
  database: Database,
  { id: workspace, settings }: Workspace,
  { period, network, result }: { period: Period; network: string; result: string },
  given: unknown,
  now: number,
): Promise<MoveList | string> {
  const read = newMovesSchema.safeParse(given)
  if (!read.success) return z.prettifyError(read.error)
  const { by, why, factors, elasticity, cut } = read.data
  const foreseen = await ask(
    workspace,
    'forecastMoves',
    { period, scope: network ? { network } : {}, factors, rules: { elasticity, cut } },
    result,
  )
  const unknown = factors.find(
    ({ path }) => !foreseen.moves.some(move => path.every((part, i) => move.path[i] === part)),
  )
  if (foreseen.moves.length === 0 || unknown)
    return `There is no row “${(unknown ?? factors[0])?.path.join(' › ')}” in this period: choose it in Weigh.`
  const list: MoveList = {
    id: uuidv7(),
    at: now,
    day: formatDay(zoneClock(settings.time_zone)(now).day),
    by: by || 'somebody here',
    why,
    result,
    network,
    currency: settings.currency,
    account: foreseen.account,
    moves: foreseen.moves,
  }
  await database.transaction(async inner => {
    await saveMoves(inner, workspace, list)
    for (const one of new Set(list.moves.map(move => move.network)))
      await noteChange(inner, workspace, 'move', one)
  })
  return list
}

/** One list, with its profile where it has moves of that network. */
async function held(database: Database, workspace: string, id: string): Promise<KeptMoves | null> {
  return (await listMoves(database, workspace)).find(({ list }) => list.id === id) ?? null
}

const levelNames = { campaign: 'campaign', ad_set: 'ad set', ad: 'ad' } as const

/** The lines of a change sheet: one for each move of a network. */
function sheetRows(list: MoveList, profile: NetworkProfile, names: ReadonlyMap<string, string>): SheetRow[] {
  return list.moves
    .filter(move => move.network === profile.id)
    .map(move => {
      const ids = move.path.slice(1)
      const level = (['campaign', 'ad_set', 'ad'] as const)[ids.length - 1] ?? 'ad'
      return {
        date: list.day,
        ids,
        names: ids.map((one, i) => {
          const at = (['campaign', 'ad_set', 'ad'] as const)[i] ?? 'ad'
          return names.get(nameKey(profile.id, at, one)) ?? one
        }),
        levelName: levelsOf(profile).includes(level)
          ? (profile.level_names[level] ?? levelNames[level])
          : levelNames[level],
        perDay: move.forecast.spend.after,
        factor: move.factor,
      }
    })
}

/**
 * A list as the change sheet of one network, in its own columns and words.
 *
 * @returns null where there is no such list, or it has nothing of that network
 */
export async function changeSheet(
  database: Database,
  { id: workspace }: Workspace,
  list: string,
  network: string,
): Promise<string | null> {
  const kept = await held(database, workspace, list)
  const profile = (await listProfiles(database, workspace)).find(one => one.id === network)
  if (!kept || !profile || !kept.list.moves.some(move => move.network === network)) return null
  const names = new Map(
    (await ask(workspace, 'entityNames', { network }, kept.list.result)).map(([key, name]) => [key, name]),
  )
  const { fields, data } = sheetCells(
    profile.sheets,
    'moves',
    sheetRows(kept.list, profile, names),
    kept.list.currency,
  )
  return writeCsv(
    fields,
    data.map(cells => Object.fromEntries(cells.map((cell, i) => [fields[i]!, cell]))),
  )
}

/** Tells a practice network what to serve from now on. Gives what is wrong, or null. */
async function tellBudgets(
  database: Database,
  workspace: string,
  network: string,
  moves: readonly { path: readonly string[]; factor: number }[],
): Promise<string | null> {
  const secret = await relaySecret(database, workspace, network)
  if (!secret) return `Say under Signals › Networks with which key ${network} takes what our server tells it.`
  const answer = await askPractice(network, '/server/budgets', {
    type: 'application/json',
    headers: { authorization: `Bearer ${secret}` },
    body: JSON.stringify(
      moves.map(({ path: [, campaign = '', ad_set = '', ad = ''], factor }) => ({
        campaign,
        ad_set,
        ad,
        factor,
      })),
    ),
  })
  if (!answer) return 'The practice network does not answer.'
  return answer.status === 200 ? null : `The practice network refused the changes (${answer.status}).`
}

/** Applies a list at a practice network, which serves by it from then on. Gives what is wrong, or null. */
export async function applyMoves(
  database: Database,
  { id: workspace }: Workspace,
  list: string,
  network: string,
  now: number,
): Promise<string | null> {
  const kept = await held(database, workspace, list)
  const moves = kept?.list.moves.filter(move => move.network === network) ?? []
  if (!kept || moves.length === 0) return `There are no such moves at ${network}.`
  if (kept.undoneAt !== null) return 'These moves were taken back: make them anew.'
  if (!isPractised(network))
    return `${network} cannot be told from here: download its change sheet, and take that in there.`
  const problem = await tellBudgets(database, workspace, network, moves)
  if (problem) return problem
  await noteApplied(database, workspace, list, network, new Date(now))
  return null
}

/** Takes a list back; where it was applied, the network serves as before it. Gives what is wrong, or null. */
export async function takeMovesBack(
  database: Database,
  { id: workspace }: Workspace,
  list: string,
  now: number,
): Promise<string | null> {
  const all = await listMoves(database, workspace)
  const kept = all.find(one => one.list.id === list)
  if (!kept || kept.undoneAt !== null) return 'There are no such moves that hold.'
  for (const network of Object.keys(kept.applied)) {
    if (!isPractised(network)) continue
    // What an earlier list has said of the same thing holds again.
    const before = (path: readonly string[]) =>
      all
        .filter(one => one.list.at < kept.list.at && one.undoneAt === null && one.applied[network])
        .flatMap(one => one.list.moves)
        .find(move => JSON.stringify(move.path) === JSON.stringify(path))?.factor ?? 1
    const moves = kept.list.moves
      .filter(move => move.network === network)
      .map(move => ({ path: move.path, factor: before(move.path) }))
    const problem = await tellBudgets(database, workspace, network, moves)
    if (problem) return problem
  }
  await takeBack(database, moveLists, workspace, list, new Date(now))
  return null
}

/** Lets the practice market go on by some days. Gives its day then, or what is wrong. */
export async function practiceGoesOn(days: number): Promise<{ day: string } | string> {
  const answer = await askPractice('market', `/go-on?days=${days}`, { type: 'text/plain', body: '' })
  if (!answer) return 'The practice market does not answer.'
  if (answer.status !== 200) return `The practice market cannot go on: ${answer.body.slice(0, 200)}`
  return z.object({ day: z.string() }).parse(JSON.parse(answer.body))
}
