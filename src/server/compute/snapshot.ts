import { createHash, randomUUID } from 'node:crypto'
import { mkdir, readFile, rename, rm, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { deserialize, serialize } from 'node:v8'
import type { Database } from '@/data/connect'
import { formOfRecords } from '@/data/loadRecords'
import { snapshotOf, tellSnapshot } from '@/data/workspace'
import { type Loaded, namedBy, workspaceOf } from './loaded'

/** What a snapshot holds, as a hash: of another form it is thrown away, whoever changed what is loaded, or how. */
export const FORM = formOfRecords()
/** A snapshot is made again when it is so many versions old, */
const OLD_VERSIONS = 500
/** or, if anything changed, so old in ms. */
const OLD_MS = 10 * 60_000
const DIGEST_BYTES = 32

type Kept = Pick<Loaded, 'version' | 'records'> & { form: string; token: string }

const fileOf = (folder: string, workspace: string) =>
  join(folder, `${encodeURIComponent(workspace)}.snapshot`)
const digestOf = (content: Uint8Array) => createHash('sha256').update(content).digest()

/**
 * The records of a workspace as a snapshot has them, which later ones are read on top of; null where there is
 * none that is whole, of this form, and known to this very database: another one, or one that was put back from
 * a copy, knows another token.
 */
export async function readSnapshot(
  database: Database,
  folder: string,
  workspace: string,
): Promise<Loaded | null> {
  const file = fileOf(folder, workspace)
  const content = await readFile(file).catch(() => null)
  if (!content) return null
  const kept = unpack(content)
  const { version, settings } = await workspaceOf(database, workspace)
  if (kept && kept.token === (await snapshotOf(database, workspace)) && kept.version <= version)
    return { version: kept.version, records: kept.records, named: namedBy(kept.records), settings }
  await rm(file, { force: true })
  return null
}

function unpack(content: Buffer): Kept | null {
  const body = content.subarray(DIGEST_BYTES)
  if (!digestOf(body).equals(content.subarray(0, DIGEST_BYTES))) return null
  try {
    const kept = deserialize(body) as Kept
    return kept.form === FORM ? kept : null
  } catch {
    return null
  }
}

/** Writes a snapshot, and tells the database that it is of its records. */
export async function writeSnapshot(
  database: Database,
  folder: string,
  workspace: string,
  { version, records }: Loaded,
): Promise<void> {
  const token = randomUUID()
  const body = serialize({ form: FORM, token, version, records } satisfies Kept)
  await mkdir(folder, { recursive: true, mode: 0o700 })
  const file = fileOf(folder, workspace)
  await writeFile(`${file}.new`, Buffer.concat([digestOf(body), body]), { mode: 0o600 })
  await rename(`${file}.new`, file)
  await tellSnapshot(database, workspace, token)
}

/** The snapshots of a folder: each is written again when it is old, one at a time; one that fails is made another time. */
export function snapshotsIn(database: Database, folder: string) {
  const written = new Map<string, { version: number; at: number }>()
  const note = (workspace: string, { version }: Loaded) => written.set(workspace, { version, at: Date.now() })
  let last: Promise<unknown> = Promise.resolve()
  return {
    async read(workspace: string): Promise<Loaded | null> {
      const kept = await readSnapshot(database, folder, workspace)
      if (kept) note(workspace, kept)
      return kept
    },
    keep(workspace: string, loaded: Loaded): void {
      const before = written.get(workspace)
      const age = before ? loaded.version - before.version : Number.POSITIVE_INFINITY
      if (age === 0 || (age < OLD_VERSIONS && Date.now() - before!.at < OLD_MS)) return
      note(workspace, loaded)
      last = last.then(() => writeSnapshot(database, folder, workspace, loaded)).catch(() => {})
    },
  }
}
