import Papa from 'papaparse'
import { fileKinds } from '@/core/intake/records'
import type { Executor } from '@/data/connect'
import type { Workspace } from '@/data/workspace'
import { recordFiles } from './exportRecords'

/** For tests: all that a workspace exports, as text by file name. */
export async function exportedFiles(
  database: Executor,
  workspace: Workspace,
): Promise<Record<string, string>> {
  const texts: Record<string, string> = {}
  for await (const { name, parts } of recordFiles(database, workspace, fileKinds)) {
    texts[name] = ''
    for await (const part of parts) texts[name] += part
  }
  return texts
}

/** For tests: the rows of a CSV text, every cell of which is text. */
export const rowsOf = (text: string): Record<string, string>[] =>
  Papa.parse<Record<string, string>>(text.trim(), { header: true }).data
