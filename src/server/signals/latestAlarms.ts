import { ask } from '../compute/ask'
import type { Alarm } from './alarms'

const FRESH_MS = 60_000
/** The latest alarms of each workspace: no page waits for them. */
const held = globalThis as {
  aequantAlarms?: Map<string, { at: number; alarms: Alarm[]; looking: Promise<Alarm[]> | null }>
}

/** The alarms as they were last worked out, and worked out again beside it when they are a minute old. */
export function knownAlarms(workspace: string, now: number): Alarm[] {
  void freshAlarms(workspace, now).catch(() => {})
  return held.aequantAlarms?.get(workspace)?.alarms ?? []
}

/** The alarms, not older than a minute. */
export async function freshAlarms(workspace: string, now: number): Promise<Alarm[]> {
  held.aequantAlarms ??= new Map()
  const known = held.aequantAlarms.get(workspace) ?? { at: 0, alarms: [], looking: null }
  held.aequantAlarms.set(workspace, known)
  if (now - known.at < FRESH_MS) return known.alarms
  known.looking ??= ask(workspace, 'alarms', now)
    .then(alarms => {
      known.at = now
      known.alarms = alarms
      return alarms
    })
    .finally(() => {
      known.looking = null
    })
  return known.looking
}
