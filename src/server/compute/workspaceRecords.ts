import type { Database } from '@/data/connect'

/** Where a view reads what is in no judgement. */
export interface WorkspaceRecords {
  database: Database
  workspace: string
}
