import { randomUUID } from 'node:crypto'
import type { FileKind } from '@/core/intake/records'
import type { Database } from '@/data/connect'
import { logged } from '@/data/importLog'
import type { Workspace } from '@/data/workspace'
import { checkPageFile } from '../checkPage'
import { pageSpecOf } from '../signals/handOff'
import { importFile, type Watch } from './importFile'
import { compareReport, takeReport } from './report'
import { compareExport, takeExport } from './shopExport'

/** Files beyond this are not kept as it was before them: it would cost as much again as to import them. */
const UNDONE_CHARACTERS = 40_000_000

/** An import that can be undone, as far as its file is not too large: by its `batch`, null where it cannot. */
const undoably =
  <Input extends { content: string }, Outcome extends object>(
    run: (database: Database, workspace: Workspace, input: Input, watch: Watch) => Promise<Outcome>,
  ) =>
  async (database: Database, workspace: Workspace, input: Input, watch: Watch) => {
    if (input.content.length > UNDONE_CHARACTERS)
      return { ...(await run(database, workspace, input, watch)), batch: null }
    const batch = randomUUID()
    const outcome = await logged({ workspace: workspace.id, batch }, () =>
      run(database, workspace, input, watch),
    )
    return { ...outcome, batch: batch as string | null }
  }

/** What can be done with a file that may be large. */
export const jobs = {
  file: undoably(
    (
      database: Database,
      workspace: Workspace,
      { kind, content, file }: { kind: FileKind; content: string; file?: string },
      watch: Watch,
    ) => importFile(database, workspace, kind, content, { ...watch, file }),
  ),
  /** rows that were set aside, corrected: not a file of its own that could be undone */
  mend: (
    database: Database,
    workspace: Workspace,
    { kind, content, file }: { kind: FileKind; content: string; file: string },
    watch: Watch,
  ) => importFile(database, workspace, kind, content, { ...watch, file }),
  compareReport,
  takeReport: undoably(takeReport),
  compareExport,
  takeExport: undoably(takeExport),
  checkPage: async (
    database: Database,
    workspace: Workspace,
    { kind, page, content, file }: { kind: 'html' | 'har'; page: string; content: string; file: string },
  ) => checkPageFile(await pageSpecOf(database, workspace.id, page), kind, content, file),
}
export type Jobs = typeof jobs
export type JobName = keyof Jobs
export type JobInput<Name extends JobName> = Parameters<Jobs[Name]>[2]
export type JobResult<Name extends JobName> = Awaited<ReturnType<Jobs[Name]>>
/** A job of any name, as the worker starts it. */
export type AnyJob = (
  database: Database,
  workspace: Workspace,
  input: unknown,
  watch: Watch,
) => Promise<unknown>
