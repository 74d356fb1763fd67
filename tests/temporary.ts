import { chmodSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

/** What a run of tests writes beside the project is in one folder, which goes with the run: a demo alone is 180 MB. */
export default function temporaryFolder(): () => void {
  const folder = mkdtempSync(join(tmpdir(), 'aequant-run-'))
  // PostgreSQL's own user has to get through to its folder.
  chmodSync(folder, 0o711)
  process.env.TMPDIR = folder
  return () => rmSync(folder, { recursive: true, force: true })
}
