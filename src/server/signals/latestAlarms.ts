import { fresh, latest } from '../compute/latest'
import type { Alarm, Watched } from './alarms'

const FRESH_MS = 60_000

/** The alarms as they were last worked out; no page waits for them. */
export const knownAlarms = (workspace: string, now: number): Alarm[] =>
  latest(workspace, 'alarms', now, FRESH_MS)?.alarms ?? []

/** The alarms and what was watched for them, not older than a minute. */
export const freshAlarms = (workspace: string, now: number): Promise<Watched> =>
  fresh(workspace, 'alarms', now, FRESH_MS)
