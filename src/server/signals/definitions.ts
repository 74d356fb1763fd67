import type { ResultDefinition } from '@/core/signals/result'
import { noteChange } from '@/data/changeLog'
import type { Database } from '@/data/connect'
import { listDefinitions, saveDefinition, saveSlot } from '@/data/signals'
import { raiseVersion } from '@/data/workspace'

/**
 * Keeps a result's definition; what is judged may change by it.
 *
 * @param isNew whether a result of that ID must not be there yet
 * @returns what is wrong in words, or null when it is kept
 */
export const keepDefinition = (
  database: Database,
  workspace: string,
  definition: ResultDefinition,
  { isNew }: { isNew: boolean },
): Promise<string | null> =>
  database.transaction(async inner => {
    const others = (await listDefinitions(inner, workspace)).filter(d => isNew || d.id !== definition.id)
    const like = others.find(d => d.id === definition.id || plainName(d.name) === plainName(definition.name))
    if (like) return `There is a result ${like.name} already: choose another name.`
    await saveDefinition(inner, workspace, definition)
    await noteChange(inner, workspace, 'result', definition.name)
    await raiseVersion(inner, workspace, 'rules')
    return null
  })

/** Maps a result onto what a network calls it; what the network claims is judged by it from then on. */
export const keepSlot = (
  database: Database,
  workspace: string,
  network: string,
  result: string,
  slot: string,
): Promise<void> =>
  database.transaction(async inner => {
    await saveSlot(inner, workspace, network, result, slot)
    await noteChange(inner, workspace, 'network', network)
    await raiseVersion(inner, workspace, 'rules')
  })

const plainName = (name: string) => name.normalize('NFKC').trim().toLowerCase()
