import { fresh, latest } from '../compute/latest'
import type { Alarm } from './alarms'

const FRESH_MS = 60_000

/** The alarms as they were last worked out; no page waits for them. */
export const knownAlarms = (workspace: string, now: number): Alarm[] =>
  latest(workspace, 'alarms', now, FRESH_MS) ?? []

/** The alarms, not older than a minute. */
export const freshAlarms = (workspace: string, now: number): Promise<Alarm[]> =>
  fresh(workspace, 'alarms', now, FRESH_MS)
