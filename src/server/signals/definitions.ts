import * as z from 'zod'
import type { Saved } from '@/core/shared/mergeEdit'
import { type ResultDefinition, resultSchema } from '@/core/signals/result'
import { noteChange } from '@/data/changeLog'
import type { Database } from '@/data/connect'
import { nextRevision } from '@/data/revision'
import { listDefinitions, saveDefinition, saveSlot } from '@/data/signals'
import { raiseVersion } from '@/data/workspace'
import { type Edit, edited } from '../edited'

/**
 * Keeps a result's definition; what is judged may change by it.
 *
 * @param isNew whether a result of that ID must not be there yet
 * @returns what is wrong in words, or null when it is kept; or what somebody else changed meanwhile
 */
export const keepDefinition = (
  database: Database,
  workspace: string,
  definition: ResultDefinition,
  { isNew, before, over }: { isNew: boolean } & Edit<ResultDefinition>,
): Promise<Saved> =>
  database.transaction(async inner => {
    await nextRevision(inner, workspace)
    const all = await listDefinitions(inner, workspace)
    const others = all.filter(d => isNew || d.id !== definition.id)
    const like = others.find(d => d.id === definition.id || plainName(d.name) === plainName(definition.name))
    if (like) return `There is a result ${like.name} already: choose another name.`
    const edit = edited(
      all.find(d => d.id === definition.id),
      definition,
      { before, over },
    )
    if ('clashes' in edit) return edit
    const read = resultSchema.safeParse(edit.merged)
    if (!read.success) return z.prettifyError(read.error)
    await saveDefinition(inner, workspace, read.data)
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
